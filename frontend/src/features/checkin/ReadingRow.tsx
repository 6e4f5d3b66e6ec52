/** One reading: what the instrument shows, where it started, its step. Enter saves and goes on to the next. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { useRef, useState } from "react";
import { ApiError, answered, api } from "../../api/client";
import { whyOfRun } from "../../api/queries";
import type { Design, Reading, ReadingSpec, UnitSystem } from "../../api/types";
import { assumeUnit, typedExample } from "../../shared/assumeUnit";
import { newId } from "../../shared/newId";
import { formatMassWithDoubt, formatQuantity } from "../../shared/format";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { WhyNumber } from "../../shared/Why";
import { InstrumentButton } from "../instruments";
import { PhotoButton } from "../photo";
import { useRunState } from "../run";
import { CountedRow } from "./CountedRow";
import { ShapeField } from "./ShapeField";
import { TeamMeasured } from "./TeamMeasured";
import type { KeptReading } from "./whatIsKept";
import { readingsLine, useCheckInWrite, useKept } from "./useCheckInWrite";

interface Props {
  design: Design;
  spec: ReadingSpec;
  /** The instrument's step, kept from one reading to the next of its kind. */
  step: string;
  /** Whether to ask what is seldom needed too: where the tape starts, the tare, the step, a repeat. */
  details: boolean;
  /** Whether to say how the reading is taken: for the one that is next. */
  explain: boolean;
  onStep: (step: string) => void;
  onFocus?: () => void;
}

function shownReading(kind: ReadingSpec["kind"], reading: Reading, units: UnitSystem): string {
  return kind === "mass"
    ? formatMassWithDoubt(reading.value_si, reading.expanded_uncertainty_si, units)
    : formatQuantity(reading.value_si, kind, units);
}

/** Taken again to see the spread; the repeats count together. */
function Repeats({
  reading,
  kept,
  kind,
  typed,
  busy,
  onAgain,
}: {
  reading: Reading | undefined;
  /** Those that wait here to be sent. */
  kept: readonly KeptReading[];
  kind: ReadingSpec["kind"];
  typed: string;
  busy: boolean;
  onAgain: () => void;
}) {
  const units = useUnits();
  const show = (value: number): string =>
    kind === "mass"
      ? formatMassWithDoubt(value, 0, units).replace(/ ±.* /, " ")
      : formatQuantity(value, kind, units);
  // One that was typed anew here counts instead of what the server has.
  const there = reading && kept[0]?.again !== false ? [...reading.repeats, reading] : [];
  const all = [...there, ...kept].map((one) => one.text);
  return (
    <Typography variant="body2" sx={{ color: ink.soft, display: "flex", gap: 1.5, alignItems: "center" }}>
      {all.length > 1 && (
        <span>
          {all.length} readings: {all.join(", ")}.{" "}
          {kept.length > 0
            ? "Their mean counts once they are sent."
            : `They differ by ${show(reading?.spread_si ?? 0)} at most; their mean counts.`}
        </span>
      )}
      <Button
        size="small"
        sx={{ px: 0, minWidth: 0 }}
        disabled={busy || typed.trim() === ""}
        onClick={onAgain}
      >
        {all.length > 1 ? "and once more" : "Measured once more? Type it, and add it"}
      </Button>
    </Typography>
  );
}

/** What was measured, or what is still waited for. */
function Told({
  design,
  reading,
  spec,
  kept,
}: {
  design: Design;
  reading: Reading | undefined;
  spec: ReadingSpec;
  /** Whether it waits here to be sent. */
  kept: boolean;
}) {
  const { state } = useRunState();
  const units = useUnits();
  if (kept) return <Typography sx={{ color: ink.watch, textAlign: "right" }}>◐ kept here</Typography>;
  const waits =
    spec.may_follow && spec.kind !== "mass" ? "after the test" : spec.needed ? "to do" : "if used";
  return (
    <Typography sx={{ color: reading ? ink.ink : ink.soft, textAlign: "right" }}>
      {reading ? (
        <WhyNumber why={whyOfRun(state.run.id, "reading", `${design.id}.${spec.key}`)}>
          {shownReading(spec.kind, reading, units)}
        </WhyNumber>
      ) : (
        waits
      )}
      {reading?.photographed && <span style={{ color: ink.soft }}> in a photo</span>}
      {reading?.estimated && <span style={{ color: ink.watch }}> from materials</span>}
      {reading?.after_test && <span style={{ color: ink.watch }}> after the test</span>}
    </Typography>
  );
}

/** What stands under a row: shapes for an area, cubes laid side by side for a young class, how it is taken. */
function Beneath({
  design,
  spec,
  reading,
  explain,
  onShape,
}: {
  design: Design;
  spec: ReadingSpec;
  reading: Reading | undefined;
  explain: boolean;
  onShape: (typed: string) => void;
}) {
  const { counted_unit: counted } = useRunState().state.run;
  return (
    <>
      {spec.kind === "area" && <ShapeField onShape={onShape} />}
      {counted && spec.kind === "length" && reading && (
        <CountedRow count={reading.value_si / counted.size_m} unit={counted.name} />
      )}
      {explain && (
        <Typography variant="body2" sx={{ color: ink.soft }}>
          {spec.how}
        </Typography>
      )}
      {spec.kind === "mass" && design.scale_advice && !design.scale_advice.good && !reading?.estimated && (
        <Notice kind="caution">{design.scale_advice.advice}</Notice>
      )}
    </>
  );
}

/** Why a reading was not taken, or what is asked about it. */
function Refused({ error, onRight }: { error: Error; onRight: () => void }) {
  const asks = error instanceof ApiError && error.confirm;
  return (
    <Notice kind={asks ? "caution" : "problem"}>
      {sentenceOf(error)}
      {asks && (
        <Button size="small" variant="outlined" sx={{ ml: 2 }} onClick={onRight}>
          It is right
        </Button>
      )}
    </Notice>
  );
}

/** What was typed into a row. */
interface Entered {
  text: string;
  start: string;
  step: string;
  confirmed: boolean;
  again: boolean;
  /** Its name, the same however often it is sent. */
  sentAs: string;
}

/** Sends a reading, or keeps it here while there is nobody to send it to. */
function useReadingWrite(design: Design, spec: ReadingSpec, reading: Reading | undefined) {
  const isMass = spec.kind === "mass";
  // Everything that is sent goes along with the call: the field may hold the next text before its turn comes.
  const bodyOf = ({ text: typed, start: from, step: digit, confirmed, again, sentAs }: Entered) => ({
    key: spec.key,
    text: typed,
    resolution_text: digit,
    zero_text: isMass ? "" : from,
    tare_text: isMass ? from : "",
    confirmed,
    again,
    sent_as: sentAs,
  });
  return useCheckInWrite<Entered>(
    design,
    {
      send: (entered, signal) =>
        answered(
          api.POST("/api/designs/{id}/readings", {
            params: { path: { id: design.id } },
            body: bodyOf(entered),
            signal,
          }),
        ),
      keep: (entered) => ({ readings: [{ ...bodyOf(entered), stood: reading?.id ?? null }] }),
    },
    undefined,
    readingsLine(design),
  );
}

export function ReadingRow({ design, spec, details, step, explain, onStep, onFocus }: Props) {
  const { state } = useRunState();
  const units = useUnits();
  const reading = design.readings.find((reading) => reading.key === spec.key);
  const waiting = useKept(design.id)?.readings.filter((one) => one.key === spec.key) ?? [];
  const kept = waiting.at(-1)?.text;
  const [text, setText] = useState(kept ?? reading?.text ?? "");
  const [start, setStart] = useState(reading ? reading.zero_text || reading.tare_text || "" : "");
  const isMass = spec.kind === "mass";
  const instrument = isMass || spec.kind === "length";
  // What was typed stays in sight.
  const more = details || start !== "";
  const write = useReadingWrite(design, spec, reading);
  const last = waiting.at(-1) ?? reading;
  const canRepeat =
    last !== undefined &&
    last.text !== "" &&
    instrument &&
    (details || waiting.length > 1 || (reading?.repeats.length ?? 0) > 0);
  const unsaved =
    text.trim() !== "" &&
    (text !== (kept ?? reading?.text ?? "") || start !== (reading?.zero_text || reading?.tare_text || ""));
  const take = (typed: string) => {
    write.reset();
    setText(typed);
  };
  // What was sent last, so that leaving the row does not send the same again while it is on its way.
  const sent = useRef("");
  const save = (confirmed: boolean, again = false) => {
    const own = state.run.counted_unit?.name ?? null;
    const meant = (typed: string) => assumeUnit(typed, spec.kind, units, own);
    const entered = {
      text: meant(text),
      start: meant(start),
      // The step of what measures an area is its ruler's.
      step: assumeUnit(step, spec.kind === "area" ? "length" : spec.kind, units),
    };
    setText(entered.text);
    setStart(entered.start);
    sent.current = `${entered.text}\n${entered.start}`;
    write.mutate({ ...entered, confirmed, again, sentAs: newId() });
  };
  return (
    <Box
      component="form"
      aria-label={spec.label}
      onFocus={onFocus}
      onSubmit={(event) => {
        event.preventDefault();
        if (text.trim() === "") return;
        save(false);
        // The next reading is typed while this one is on its way; if it is refused, that is said here.
        (event.currentTarget as HTMLFormElement).nextElementSibling?.querySelector("input")?.focus();
      }}
      onBlur={(event) => {
        // Leaving the row with something typed saves it: nothing typed is lost by going on.
        if (
          unsaved &&
          sent.current !== `${text}\n${start}` &&
          !event.currentTarget.contains(event.relatedTarget)
        )
          save(false);
      }}
      sx={{ py: 1, borderBottom: `1px solid ${ink.line}` }}
    >
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: {
            xs: "minmax(0, 1fr) minmax(0, 1fr)",
            sm: more ? "104px 96px 82px 68px 114px minmax(0, 1fr)" : "170px 170px 136px 1fr",
          },
          gap: 1,
          alignItems: "center",
        }}
      >
        <Typography sx={{ fontWeight: 600, fontSize: "1.1rem" }} title={spec.how}>
          {spec.label}
        </Typography>
        <TextField
          value={text}
          placeholder={typedExample(spec.kind, units)}
          slotProps={{ htmlInput: { "aria-label": spec.label } }}
          error={write.isError}
          onChange={(e) => take(e.target.value)}
        />
        {!more ? null : instrument ? (
          <TextField
            label={isMass ? "Tare" : "Starts at"}
            value={start}
            placeholder={isMass ? "0 g" : "0 cm"}
            onChange={(e) => {
              write.reset();
              setStart(e.target.value);
            }}
          />
        ) : (
          <span />
        )}
        {!more ? null : instrument ? (
          <TextField label="Step" value={step} onChange={(e) => onStep(e.target.value)} />
        ) : (
          <span />
        )}
        <Box sx={{ display: "flex", justifyContent: "space-between" }}>
          <Button type="submit" variant={unsaved ? "contained" : "text"} disabled={text.trim() === ""}>
            {write.isPending ? "Saving" : "Save"}
          </Button>
          {spec.pictured && (
            <PhotoButton
              design={design}
              spec={spec}
              reading={reading}
              onKept={(one) => {
                // What stood in the field would count instead as soon as one left it.
                take(one.text);
                setStart(one.zero_text);
              }}
            />
          )}
        </Box>
        <Told design={design} reading={reading} spec={spec} kept={kept !== undefined} />
      </Box>
      {write.isError && <Refused error={write.error} onRight={() => save(true)} />}
      {canRepeat && (
        <Repeats
          reading={reading}
          kept={waiting}
          kind={spec.kind}
          typed={text}
          busy={write.isPending}
          onAgain={() => save(false, true)}
        />
      )}
      {(isMass || spec.kind === "length") && explain && (
        <InstrumentButton
          kind={spec.kind}
          label={isMass ? "Read the scale" : "Read a distance gauge"}
          onRead={(shown, digit) => {
            take(shown);
            onStep(digit);
          }}
        />
      )}
      <TeamMeasured design={design} reading={spec.key} />
      <Beneath design={design} spec={spec} reading={reading} explain={explain} onShape={take} />
    </Box>
  );
}

/** What a team measures of its own design. The teacher takes it over in one touch, or measures, and then says how far apart. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { answered, api } from "../../api/client";
import type { OwnReading, TeamPage } from "../../api/types";
import { assumeUnit, typedExample } from "../../shared/assumeUnit";
import { formatQuantity } from "../../shared/format";
import { instrumentOf, usualSteps, type Instrument } from "../../shared/instruments";
import { useRemembered } from "../../shared/remembered";
import { Notice } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { useShow } from "./page";
import { Standing } from "./Standing";
import { useKeptUntilSent } from "./useKeptUntilSent";

/** What an instrument shows: its smallest step, and where it stood before anything was measured. */
interface Shows {
  step: string;
  start: string;
}

const STARTS: Partial<Record<Instrument, string>> = {
  length: "The tape starts at",
  mass: "The scale showed, empty",
};
interface Entered extends Shows {
  text: string;
  confirmed: boolean;
}

function Told({ reading }: { reading: OwnReading }) {
  const units = useUnits();
  const { own } = reading;
  if (!own)
    return reading.measured ? (
      <span>Your teacher has measured it. Measure it too, and see whether you agree.</span>
    ) : null;
  if (reading.counts_si === null) return <span>◐ your teacher has not looked at it yet</span>;
  if (own.taken) return <span>● your teacher took it over</span>;
  return (
    <span>
      Your teacher measured <b>{formatQuantity(reading.counts_si, reading.kind, units)}</b>. Yours:{" "}
      {own.apart}.{own.agree === false && " Look where each of you began to measure."}
    </span>
  );
}

interface RowProps {
  reading: OwnReading;
  place: string;
  instrument: Shows;
  /** What a young class counts lengths in; empty for no such unit. */
  ownUnit: string;
}

function Row({ reading, place, instrument, ownUnit }: RowProps) {
  const show = useShow();
  const units = useUnits();
  const [typed, setTyped] = useRemembered<string | null>(`team-read ${place} ${reading.key}`, null);
  const sending = useKeptUntilSent(
    `team-reading ${place} ${reading.key}`,
    async (kept) => {
      const { text, step, start, confirmed } = JSON.parse(kept.text) as Entered;
      const mass = reading.kind === "mass";
      const body = {
        key: reading.key,
        text,
        resolution_text: step,
        zero_text: mass ? "" : start,
        tare_text: mass ? start : "",
        confirmed,
      };
      show(await answered(api.POST("/api/team/readings", { body })));
    },
    0,
  );
  const waiting = sending.kept ? (JSON.parse(sending.kept.text) as Entered) : null;
  const stands = waiting?.text ?? reading.own?.text ?? "";
  const text = typed ?? stands;
  const asks = sending.refused?.confirm ?? false;
  const give = (confirmed: boolean) =>
    sending.give(
      JSON.stringify({
        ...instrument,
        text: assumeUnit(text, reading.kind, units, ownUnit || null),
        confirmed,
      }),
      "",
    );
  return (
    <Box
      component="form"
      aria-label={reading.label}
      onSubmit={(event) => {
        event.preventDefault();
        give(false);
        setTyped(null);
      }}
      sx={{ py: 1, borderBottom: `1px solid ${ink.line}` }}
    >
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", flexWrap: "wrap" }}>
        <Box sx={{ flex: "1 1 12rem" }}>
          <Typography sx={{ fontWeight: 600, fontSize: "1.15rem" }}>{reading.label}</Typography>
          <Typography variant="body2" sx={{ color: ink.soft }}>
            {reading.how}
          </Typography>
        </Box>
        <TextField
          required
          value={text}
          placeholder={typedExample(reading.kind, units)}
          onChange={(event) => setTyped(event.target.value)}
          slotProps={{ htmlInput: { "aria-label": reading.label, maxLength: 100 } }}
          sx={{ width: "9.5rem" }}
        />
        <Button
          type="submit"
          variant={typed === null ? "outlined" : "contained"}
          disabled={text.trim() === ""}
        >
          We read that
        </Button>
      </Box>
      {sending.refused && (
        <Notice kind={asks ? "caution" : "problem"}>
          {sending.refused.message}
          {asks && (
            <Button size="small" variant="outlined" sx={{ ml: 2 }} onClick={() => give(true)}>
              It is right
            </Button>
          )}
        </Notice>
      )}
      <Typography sx={{ color: ink.soft }}>
        <Told reading={reading} />
      </Typography>
      {sending.kept && <Standing sending={sending} done="" />}
    </Box>
  );
}

export function OwnReadings({ page, place }: { page: TeamPage; place: string }) {
  const kinds = [...new Set(page.readings.map((reading) => instrumentOf(reading.kind)))];
  const [instruments, setInstruments] = useRemembered<Partial<Record<Instrument, Shows>>>(
    "team-instruments",
    {},
  );
  if (page.readings.length === 0) return null;
  const steps = usualSteps(page.own_unit);
  const instrument = (kind: Instrument): Shows => ({
    step: steps[kind],
    start: "",
    ...instruments[kind],
  });
  return (
    <Box sx={{ mt: 3 }}>
      <Typography variant="h2">Measure it yourselves</Typography>
      <Box component="details" sx={{ my: 1 }}>
        <Typography component="summary" sx={{ cursor: "pointer", color: ink.soft }}>
          With which ruler and which scale?
        </Typography>
        {kinds
          .filter((kind) => kind in STARTS)
          .map((kind) => (
            <Box key={kind} sx={{ display: "flex", gap: 1.5, mt: 1.5, flexWrap: "wrap" }}>
              <TextField
                label={kind === "mass" ? "The scale’s smallest step" : "The ruler’s smallest step"}
                value={instrument(kind).step}
                onChange={(event) =>
                  setInstruments({
                    ...instruments,
                    [kind]: { ...instrument(kind), step: event.target.value },
                  })
                }
                sx={{ width: "13rem" }}
              />
              <TextField
                label={STARTS[kind]}
                placeholder={kind === "mass" ? "0 g" : "0 cm"}
                value={instrument(kind).start}
                onChange={(event) =>
                  setInstruments({
                    ...instruments,
                    [kind]: { ...instrument(kind), start: event.target.value },
                  })
                }
                sx={{ width: "13rem" }}
              />
            </Box>
          ))}
      </Box>
      {page.readings.map((reading) => (
        <Row
          key={reading.key}
          reading={reading}
          place={place}
          instrument={instrument(instrumentOf(reading.kind))}
          ownUnit={page.own_unit}
        />
      ))}
    </Box>
  );
}

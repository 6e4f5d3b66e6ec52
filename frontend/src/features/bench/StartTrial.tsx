/** Before a trial: what the team says, then start. After one: what came of it, and what is next. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link as RouterLink, useNavigate } from "react-router";
import { answered, api } from "../../api/client";
import { keys, useRunPlan } from "../../api/queries";
import type { Design, TrialState } from "../../api/types";
import { formatEstimate, formatMass } from "../../shared/format";
import { Notice, sentenceOf } from "../../shared/states";
import { condensed, ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { AwayControl } from "../checkin";
import { useDesignWrite, useRunState } from "../run";
import { assumeUnit } from "../../shared/assumeUnit";
import { useSince } from "../../shared/clock";
import { clockText } from "../../shared/clockText";
import { useKeys } from "../../shared/keyboard";
import { newId } from "../../shared/newId";
import { begin } from "./beginning";
import { TestedByItself } from "./ConfirmTest";
import { KeyButton } from "./KeyButton";
import { pieceWord } from "./kitWords";
import { senderOf } from "./senders";
import { StepControl } from "./StepControl";
import { TrialList } from "./TrialList";
import { TrialPicture } from "./TrialPicture";
import { Ways } from "./Ways";

function Prediction({ design }: { design: Design }) {
  const units = useUnits();
  const { state, family } = useRunState();
  const { run, foretells } = state;
  const counts = run.young || family.bench.counts_pieces;
  const others = state.designs.some((other) => other.tested && other.team.id !== design.team.id);
  const [text, setText] = useState("");
  const [saying, setSaying] = useState(design.prediction === null);
  const field = useRef<HTMLInputElement>(null);
  // Not focused by itself, so that the keys of the bench work at once.
  useKeys({ p: () => field.current?.focus() });
  const write = useDesignWrite(
    () =>
      answered(
        api.POST("/api/designs/{id}/prediction", {
          params: { path: { id: design.id } },
          // Where pieces are counted, a bare number is a number of pieces.
          body: { text: counts ? text : assumeUnit(text, foretells?.kind ?? "mass", units) },
        }),
      ),
    () => setSaying(false),
  );
  if (!saying && design.prediction) {
    return (
      <Typography sx={{ fontSize: "1.5rem" }}>
        {design.team.name} says <b>{design.prediction.words}</b>.{" "}
        <Button onClick={() => setSaying(true)}>Change it</Button>
      </Typography>
    );
  }
  return (
    <Box
      component="form"
      sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "start" }}
      onSubmit={(event) => {
        event.preventDefault();
        write.mutate(undefined);
      }}
    >
      <TextField
        label={
          foretells ? `${design.team.name}: ${foretells.ask}` : `How much will it hold, ${design.team.name}?`
        }
        placeholder={
          foretells?.example ??
          `${counts ? "12" : units === "us" ? "30 oz" : "850 g"}, or 40 ${pieceWord(run.kit, 40)}`
        }
        inputRef={field}
        value={text}
        error={write.isError}
        helperText={
          write.isError
            ? sentenceOf(write.error)
            : others
              ? "Also: more than, less than, about the same as a team that was tested. P types."
              : "Before the test begins. P types."
        }
        onChange={(e) => setText(e.target.value)}
        sx={{ width: 380, maxWidth: 1 }}
      />
      <Button type="submit" variant="outlined" disabled={text.trim() === "" || write.isPending}>
        Note it
      </Button>
    </Box>
  );
}

/** The model's range for the design's draft; kept back until the team has said what it thinks. */
function ModelSays({ design }: { design: Design }) {
  const { state } = useRunState();
  const units = useUnits();
  const shown = design.model;
  const show = useDesignWrite(() =>
    answered(api.POST("/api/designs/{id}/show-model", { params: { path: { id: design.id } } })),
  );
  if (design.draft === null)
    return (
      <Button component={RouterLink} to={`/runs/${state.run.id}/drafting/${design.id}`} sx={{ px: 0 }}>
        Draft it, and the model says what it expects
      </Button>
    );
  if (design.veiled)
    return (
      <Typography sx={{ color: ink.soft }}>
        The model has an answer, and waits for {design.team.name}.{" "}
        <Button size="small" onClick={() => show.mutate(undefined)}>
          Show it without
        </Button>
      </Typography>
    );
  if (!shown) return null;
  return (
    <Typography sx={{ fontSize: "1.5rem" }}>
      The model says{" "}
      <b>
        {formatEstimate(shown.low_kg, units)} to {formatEstimate(shown.high_kg, units)}
      </b>
      . <span style={{ fontSize: "1.1rem" }}>{design.model_goes_first} first.</span>
    </Typography>
  );
}

/** What can hurt someone at this bench: by family, material and load. */
function BenchCautions() {
  const { state, family } = useRunState();
  const plan = useRunPlan(state.run.id);
  const cautions = plan.data?.cautions ?? family.cautions;
  return (
    <Box sx={{ mt: 3 }}>
      {cautions
        .filter((caution) => caution.stages.includes("bench"))
        .map((caution) => (
          <Typography key={caution.key} variant="body2" sx={{ mt: 0.5 }}>
            <b style={{ color: ink.watch }}>{caution.title}.</b> {caution.text}
          </Typography>
        ))}
    </Box>
  );
}

/** What the latest trial came to, or that the team is on. */
function CameTo({ design }: { design: Design }) {
  const units = useUnits();
  const latest = design.trials.at(-1);
  const result = latest?.result;
  const headline = !result
    ? `${design.team.name} is ${design.away || "on"}.`
    : result.outcome === "running"
      ? `${design.team.name}’s test is kept here.`
      : result.outcome === "void"
        ? `Trial ${design.trials.length} is void. It is not scored.`
        : latest.headline;
  return (
    <>
      <Typography variant="h1" sx={{ fontFamily: condensed, fontSize: "3.6rem", overflowWrap: "anywhere" }}>
        {headline}
      </Typography>
      {result?.outcome === "running" && (
        <Typography sx={{ fontSize: "1.4rem", mb: 1 }}>
          What came of it is told once the server has it. The next team can come on.
        </Typography>
      )}
      {result && (
        <Typography sx={{ fontSize: "1.4rem", mb: 1 }}>
          {latest.how}
          {result.outcome === "broke" &&
            result.broke_kg !== null &&
            result.broke_kg !== undefined &&
            ` at ${formatMass(result.broke_kg, units)}`}
          {result.note && `. ${result.note}`}
        </Typography>
      )}
      {latest && <TestedByItself trial={latest} />}
    </>
  );
}

/** With the last one tested, what comes next is to compare. */
function ToCompare() {
  const { run } = useRunState().state;
  const go = useNavigate();
  const compare = () => void go(`/runs/${run.id}/compare`);
  useKeys({ c: compare });
  return (
    <KeyButton
      look="place"
      letter="C"
      title="Compare"
      note="everybody is tested"
      grow={1.5}
      onPress={compare}
    />
  );
}

export function StartTrial({
  design,
  ahead,
  next,
  onPick,
  onRehearse,
  onBegun,
}: {
  design: Design;
  /** What its next trial would begin with, where that was fetched. */
  ahead: TrialState | undefined;
  next: Design | undefined;
  onPick: (id: number) => void;
  onRehearse: (trial: string) => void;
  onBegun: () => void;
}) {
  const { state, family } = useRunState();
  const client = useQueryClient();
  const [wetReason, setWetReason] = useState("");
  const drying = design.drying_left_s - useSince(design, design.drying_left_s > 0);
  const ways = family.bench.arrangements;
  const [way, setWay] = useState(state.usual_arrangement);
  // Pressed again after an answer that was lost, it is the same trial that begins.
  const ids = useRef({ trial: newId(), rehearsal: newId() });
  const start = useMutation({
    mutationFn: (rehearsal: boolean) =>
      begin(client, state.run.id, {
        trial: ids.current[rehearsal ? "rehearsal" : "trial"],
        design,
        arrangement: way,
        wetReason,
        rehearsal,
        ahead,
      }),
    onSuccess: async (trial) => {
      ids.current = { trial: newId(), rehearsal: newId() };
      client.setQueryData(keys.trial(trial.id), trial);
      onBegun();
      if (trial.rehearsal) onRehearse(trial.id);
      else if (senderOf(client, trial.id).snapshot().beginning === null)
        await client.invalidateQueries({ queryKey: keys.run(state.run.id) });
    },
  });
  const press = () => {
    if (design.checked_in && !start.isPending && (drying <= 0 || wetReason.trim() !== ""))
      start.mutate(false);
  };
  const rehearse = () => {
    if (!start.isPending) start.mutate(true);
  };
  const again = design.trials.length > 0;
  // With the last one tested, what comes next is to compare.
  const over = again && !next && state.designs.every((other) => other.tested || other.away);
  useKeys({
    enter: again ? null : press,
    a: again ? press : null,
    n: next ? () => onPick(next.id) : null,
    r: family.procedure.rehearses ? rehearse : null,
    ...Object.fromEntries(ways.map((way, i) => [String(i + 1), () => setWay(way.key)])),
  });
  const rehearseKey = family.procedure.rehearses && (
    <KeyButton
      look="plain"
      letter="R"
      title="Rehearse"
      note="a made-up one"
      onPress={rehearse}
      disabled={start.isPending}
      small={again}
      grow={again ? 1 : 0.7}
    />
  );
  return (
    <Box
      sx={{ display: "grid", gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "1fr 1fr" }, gap: 4, pt: 3 }}
    >
      <Box>
        <CameTo design={design} />
        <AwayControl design={design} />
        {!design.checked_in ? (
          <Notice kind="caution">
            Not checked in yet.{" "}
            <Button component={RouterLink} to={`/runs/${state.run.id}/check-in/${design.id}`}>
              To check-in
            </Button>
          </Notice>
        ) : (
          <Box sx={{ mt: 2 }}>
            {!again && <Prediction design={design} />}
            {!again && family.loaded && family.drafted && <ModelSays design={design} />}
            {ways.length > 0 && <Ways ways={ways} way={way} onWay={setWay} />}
            {drying > 0 && (
              <Box sx={{ my: 1.5 }}>
                <Typography sx={{ fontSize: "1.2rem", color: ink.watch, fontWeight: 600 }}>
                  ≈ The joints are dry in {clockText(drying)}.
                </Typography>
                <TextField
                  label="Why test it now anyway?"
                  value={wetReason}
                  onChange={(event) => setWetReason(event.target.value)}
                  helperText="The reason is kept and shown with the result."
                  sx={{ width: 360, maxWidth: 1, mt: 1 }}
                />
              </Box>
            )}
          </Box>
        )}
        {start.isError && <Notice kind="problem">{sentenceOf(start.error)}</Notice>}
        <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.25, mt: 3, maxWidth: 640 }}>
          {over && <ToCompare />}
          {next && again && (
            <KeyButton
              look="place"
              letter="N"
              title={`Next: ${next.team.name}`}
              note="team on the bench"
              grow={1.5}
              onPress={() => onPick(next.id)}
            />
          )}
          <KeyButton
            look={again ? "plain" : "place"}
            letter={again ? "A" : "↵"}
            title={again ? "Test again" : "Start the trial"}
            note={
              again
                ? `trial ${design.trials.length + 1}`
                : family.loaded
                  ? `wait ${state.hold_s} s after each step`
                  : "everyone behind the line"
            }
            disabled={!design.checked_in || start.isPending || (drying > 0 && wetReason.trim() === "")}
            onPress={press}
          />
          {!again && rehearseKey}
        </Box>
        {family.loaded && !state.run.young && <StepControl />}
        {again && <Box sx={{ display: "flex", mt: 1.25, width: 190 }}>{rehearseKey}</Box>}
        <TrialList design={design} />
        <BenchCautions />
      </Box>
      <Box sx={{ height: "min(56vh, 520px)" }}>
        <TrialPicture design={design} shown={design.trials.at(-1)?.result ?? null} />
      </Box>
    </Box>
  );
}

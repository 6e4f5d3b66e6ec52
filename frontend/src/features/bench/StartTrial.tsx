/** Before a trial: what the team says, then start. After one: what came of it, and what is next. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import { answered, api } from "../../api/client";
import { keys } from "../../api/queries";
import type { Design } from "../../api/types";
import { formatEstimate, formatLength, formatMass } from "../../app/format";
import { Notice, sentenceOf } from "../../app/states";
import { condensed, ink } from "../../app/theme";
import { useUnits } from "../../app/units";
import { BridgeElevation } from "../../drawing/BridgeElevation";
import { SetupDrawing } from "../../drawing/SetupDrawing";
import { layersOf } from "../../drawing/bridgeGeometry";
import { useDesignWrite, useRunState } from "../run/useRunState";
import { useSince } from "../../app/clock";
import { clockText } from "../../app/clockText";
import { useKeys } from "./keyboard";
import { KeyButton } from "./KeyButton";
import { benchId, newId } from "./outbox";

function Prediction({ design }: { design: Design }) {
  const units = useUnits();
  const [text, setText] = useState("");
  const [saying, setSaying] = useState(design.prediction === null);
  const write = useDesignWrite(
    () =>
      answered(
        api.POST("/api/designs/{id}/prediction", { params: { path: { id: design.id } }, body: { text } }),
      ),
    () => setSaying(false),
  );
  if (!saying && design.prediction) {
    return (
      <Typography sx={{ fontSize: "1.5rem" }}>
        {design.team.name} says <b>{formatMass(design.prediction.load_kg, units)}</b>.{" "}
        <Button onClick={() => setSaying(true)}>Say it anew</Button>
      </Typography>
    );
  }
  return (
    <Box
      component="form"
      sx={{ display: "flex", gap: 1, alignItems: "start" }}
      onSubmit={(event) => {
        event.preventDefault();
        write.mutate(undefined);
      }}
    >
      <TextField
        label={`How much will it hold, ${design.team.name}?`}
        placeholder="850 g"
        autoFocus
        value={text}
        error={write.isError}
        helperText={write.isError ? sentenceOf(write.error) : "With its unit. Said before loading begins."}
        onChange={(e) => setText(e.target.value)}
        sx={{ width: 300 }}
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

export function StartTrial({
  design,
  next,
  onPick,
}: {
  design: Design;
  next: Design | undefined;
  onPick: (id: number) => void;
}) {
  const { state, family } = useRunState();
  const units = useUnits();
  const client = useQueryClient();
  const [wetReason, setWetReason] = useState("");
  const drying = design.drying_left_s - useSince(design, design.drying_left_s > 0);
  const start = useMutation({
    mutationFn: () =>
      answered(
        api.POST("/api/designs/{id}/trials", {
          params: { path: { id: design.id } },
          body: { id: newId(), bench: benchId(), wet_reason: wetReason },
        }),
      ),
    onSuccess: async (trial) => {
      client.setQueryData(keys.trial(trial.id), trial);
      await client.invalidateQueries({ queryKey: keys.run(state.run.id) });
    },
  });
  const begin = () => {
    if (design.checked_in && !start.isPending && (drying <= 0 || wetReason.trim() !== "")) start.mutate();
  };
  const again = design.trials.length > 0;
  useKeys({
    ...(again ? { a: begin } : { enter: begin }),
    ...(next ? { n: () => onPick(next.id) } : {}),
  });
  const value = (key: string) => design.readings.find((one) => one.key === key)?.value_si;
  const gap = value("gap") ?? state.run.setup["gap_m"] ?? 0.3;
  const last = design.trials[design.trials.length - 1]?.result;
  const modes = [...family.failure_modes, ...family.loading_errors, ...family.run_out_reasons];
  const how = last && modes.find((mode) => mode.key === (last.mode ?? last.reason))?.label;
  const headline = !last
    ? `${design.team.name} is on.`
    : last.outcome === "void"
      ? `Trial ${design.trials.length} is void. It is not scored.`
      : `${design.team.name} held ${last.outcome === "ran_out" ? "at least " : ""}${formatMass(last.held_kg, units)}.`;
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: { md: "1fr 1fr" }, gap: 4, pt: 3 }}>
      <Box>
        <Typography variant="h1" sx={{ fontFamily: condensed, fontSize: "3.6rem", overflowWrap: "anywhere" }}>
          {headline}
        </Typography>
        {last && (
          <Typography sx={{ fontSize: "1.4rem", mb: 1 }}>
            {how}
            {last.outcome === "broke" &&
              last.broke_kg !== null &&
              last.broke_kg !== undefined &&
              ` at ${formatMass(last.broke_kg, units)}`}
            {last.note && `. ${last.note}`}
          </Typography>
        )}
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
            {!again && <ModelSays design={design} />}
            {drying > 0 && (
              <Box sx={{ my: 1.5 }}>
                <Typography sx={{ fontSize: "1.2rem", color: ink.watch, fontWeight: 600 }}>
                  ≈ The joints are dry in {clockText(drying)}.
                </Typography>
                <TextField
                  label="Why test it now all the same?"
                  value={wetReason}
                  onChange={(event) => setWetReason(event.target.value)}
                  helperText="The reason is kept and shown with the result."
                  sx={{ width: 360, mt: 1 }}
                />
              </Box>
            )}
          </Box>
        )}
        {start.isError && <Notice kind="problem">{sentenceOf(start.error)}</Notice>}
        <Box sx={{ display: "flex", gap: 1.25, mt: 3, maxWidth: 560 }}>
          {next && again && (
            <KeyButton
              look="place"
              letter="N"
              title={`Next: ${next.team.name}`}
              note="team on the bench"
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
                : `wait ${state.run.setup["hold_s"] ?? ""} s after each step`
            }
            disabled={!design.checked_in || start.isPending || (drying > 0 && wetReason.trim() === "")}
            onPress={begin}
          />
        </Box>
        <Box sx={{ mt: 3 }}>
          {family.cautions
            .filter((caution) => caution.stages.includes("bench"))
            .map((caution) => (
              <Typography key={caution.key} variant="body2" sx={{ mt: 0.5 }}>
                <b style={{ color: ink.watch }}>{caution.title}.</b> {caution.text}
              </Typography>
            ))}
        </Box>
      </Box>
      <Box sx={{ height: "min(56vh, 520px)" }}>
        {family.key === "bridge" ? (
          <BridgeElevation
            gapM={gap}
            overlapLeftM={value("overlap_left") ?? 0.03}
            overlapRightM={value("overlap_right") ?? 0.03}
            stack={last ? layersOf(last.steps, state.run.kit) : []}
            gapLabel={formatLength(gap, units)}
            broken={last?.outcome === "broke"}
          />
        ) : (
          <SetupDrawing drawing={state.drawing} width={560} height={480} />
        )}
      </Box>
    </Box>
  );
}

/** The trial under way: one big figure, the drawing that grows, the wait, and the keys. Worked with one hand. */
import { Box, Button, Typography } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { keys } from "../../api/queries";
import type { Design } from "../../api/types";
import {
  formatEstimate,
  formatLength,
  formatMass,
  formatMassWithDoubt,
  formatRatio,
  massFigure,
} from "../../app/format";
import { Failed, Loading, Notice } from "../../app/states";
import { condensed, ink } from "../../app/theme";
import { useUnits } from "../../app/units";
import { BridgeElevation } from "../../drawing/BridgeElevation";
import { SetupDrawing } from "../../drawing/SetupDrawing";
import { layersOf } from "../../drawing/bridgeGeometry";
import { LoadRule, type RuleMark } from "../../drawing/LoadRule";
import { useRunState } from "../run/useRunState";
import { BenchKeys } from "./BenchKeys";
import { BenchPanels, type Panel } from "./BenchPanels";
import { HoldBox } from "./HoldBox";
import { itemWords } from "./kitWords";
import { useTrial } from "./useTrial";
import { useWidth } from "./useWidth";
import { SavingWords, StepStrip } from "./TrialStrips";

export function TrialBench({
  design,
  trialId,
  onEnded,
}: {
  design: Design;
  trialId: string;
  onEnded: () => void;
}) {
  const { state: runState, family } = useRunState();
  const { run, best_held, drawing } = runState;
  const units = useUnits();
  const bench = useTrial(trialId, run.id, run.kit);
  const [panel, setPanel] = useState<Panel>(null);
  const [over, setOver] = useState<{ step: string; at: number } | null>(null);
  const [ruleRef, ruleWidth] = useWidth();
  const { state, shown, act } = bench;
  const client = useQueryClient();
  const [leaving, setLeaving] = useState(false);
  const left = useRef(false);
  const allSaved = bench.pending.length === 0;
  useEffect(() => {
    // The page that follows tells the result, so it waits until the end is saved and the run says so.
    if (!leaving || !allSaved || left.current) return;
    left.current = true;
    void client.invalidateQueries({ queryKey: keys.run(run.id) }).then(onEnded);
  }, [allSaved, client, leaving, onEnded, run.id]);
  // The record says how long it really stayed up, not what was agreed.
  const settle = () => {
    if (overAt !== null) act("settle", { waited_s: holdS + (performance.now() - overAt) / 1000 });
  };
  const goOn = () => setLeaving(true);

  const waitingStep = shown?.steps.filter((step) => step.state === "waiting").at(-1)?.event_id ?? null;
  const holdS = run.setup["hold_s"] ?? 5;
  const overAt = over !== null && over.step === waitingStep ? over.at : null;
  const onOver = useCallback(() => {
    if (waitingStep !== null) setOver({ step: waitingStep, at: performance.now() });
  }, [waitingStep]);

  const busy = bench.saving === "busy";

  if (bench.trial.isPending) return <Loading what="the trial" />;
  if (!state || !shown) return <Failed error={bench.trial.error} retry={() => void bench.trial.refetch()} />;

  const ended = shown.outcome !== "running";
  const placedAny = Object.values(shown.placed).some((count) => count > 0);
  const value = (key: string) => design.readings.find((one) => one.key === key)?.value_si;
  const gap = value("gap") ?? run.setup["gap_m"] ?? 0.3;
  const figure = massFigure(shown.held_kg, units);
  const ratio = state.self_mass && shown.held_kg > 0 ? shown.held_kg / state.self_mass.value : null;
  const target = run.setup["target_kg"];
  const unitKg = units === "us" ? 0.45359237 : 1;
  const marks: RuleMark[] = [
    ...(target ? [{ label: `target ${formatMass(target, units)}`, kg: target }] : []),
    ...(state.prediction_kg
      ? [{ label: `team says ${formatMass(state.prediction_kg, units)}`, kg: state.prediction_kg }]
      : []),
    ...(best_held
      ? [
          {
            label: `best so far ${best_held.at_least ? "at least " : ""}${formatMass(best_held.held_kg, units)}`,
            kg: best_held.held_kg,
          },
        ]
      : []),
  ];
  const signs = new Map(family.observations.map((mode) => [mode.key, mode.label]));
  const how = [...family.failure_modes, ...family.run_out_reasons, ...family.loading_errors].find(
    (mode) => mode.key === (shown.mode ?? shown.reason),
  );
  const warnings = state.plan.warnings.join(" ");
  const outcomeWord = {
    running: shown.step_waiting ? "Held before this step" : placedAny ? "Held" : "Nothing on it yet",
    broke: "Broke. It held",
    ran_out: "Ran out of load. It held at least",
    void: "Void, not scored. It had held",
  }[shown.outcome];

  return (
    <Box
      sx={{
        display: "flex",
        flexDirection: "column",
        gap: 1,
        height: { sm: "calc(100vh - 172px)" },
        minHeight: { sm: 590 },
      }}
    >
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { md: "minmax(560px, 1.15fr) 1fr" },
          gridTemplateRows: { sm: "minmax(300px, 2fr) minmax(0, 3fr)", md: "minmax(0, 1fr)" },
          gap: 2,
          flex: 1,
          minHeight: 0,
        }}
      >
        <Box sx={{ minHeight: 0, display: "flex", flexDirection: "column" }}>
          <Typography sx={{ fontSize: "1.35rem", pt: 1 }}>
            {design.team.name}
            {design.version > 1 && `, version ${design.version}`}, trial {state.number}. <b>{outcomeWord}</b>
            {how && ended && `. ${how.label}`}
          </Typography>
          <Box sx={{ flex: 1, minHeight: 96, containerType: "size", display: "flex", alignItems: "center" }}>
            <Box
              data-figure="held"
              sx={{
                fontFamily: condensed,
                fontWeight: 700,
                // As large as the room it has: three digits and a point are about as wide as two heights.
                fontSize: "min(33cqw, 104cqh)",
                lineHeight: 0.9,
                fontVariantNumeric: "tabular-nums",
                whiteSpace: "nowrap",
                color: shown.outcome === "broke" || shown.outcome === "void" ? ink.broke : ink.held,
              }}
            >
              {figure.value}{" "}
              <Box component="span" sx={{ fontSize: "0.36em", ml: "-0.25em" }}>
                {figure.unit}
              </Box>
            </Box>
          </Box>
          <Box sx={{ display: "flex", alignItems: "center", gap: 3, minHeight: 62 }}>
            {waitingStep !== null && !ended && <HoldBox key={waitingStep} holdS={holdS} onOver={onOver} />}
            {ratio !== null && (
              <Box>
                <Box
                  component="span"
                  data-figure="ratio"
                  sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "2.9rem", lineHeight: 1 }}
                >
                  {formatRatio(ratio)} ×
                </Box>{" "}
                <Box component="span" sx={{ fontSize: "1.2rem" }}>
                  its own weight
                </Box>
              </Box>
            )}
            {ratio === null && !state.self_mass && (
              <Typography sx={{ color: ink.watch }}>
                Own weight not taken: no ratio yet. It can be weighed afterwards.
              </Typography>
            )}
          </Box>
          <Typography
            sx={{
              color: ink.soft,
              mt: 0.5,
              whiteSpace: "nowrap",
              overflow: "hidden",
              textOverflow: "ellipsis",
            }}
          >
            {state.self_mass &&
              `Own weight ${formatMassWithDoubt(state.self_mass.value, state.self_mass.standard_uncertainty, units)}. `}
            {shown.step_waiting && `On it now ${formatMass(shown.load_on_kg, units)}. `}
            {state.estimate &&
              `Expected ${formatEstimate(state.estimate.low_kg, units)} to ${formatEstimate(state.estimate.high_kg, units)}, from ${state.estimate.basis}.`}
          </Typography>
        </Box>
        <Box sx={{ minHeight: 0, height: { xs: 300, sm: "100%" } }}>
          {family.key === "bridge" ? (
            <BridgeElevation
              gapM={gap}
              overlapLeftM={value("overlap_left") ?? 0.03}
              overlapRightM={value("overlap_right") ?? 0.03}
              stack={layersOf(shown.steps, run.kit)}
              gapLabel={formatLength(gap, units)}
              sagM={shown.last_sag_m ?? 0}
              broken={shown.outcome === "broke"}
            />
          ) : (
            <SetupDrawing drawing={drawing} width={560} height={400} />
          )}
        </Box>
      </Box>

      {(bench.refused !== null || busy || (!ended && (state.caution !== null || warnings !== ""))) && (
        <Box
          sx={{
            display: "flex",
            flexWrap: "wrap",
            gap: 1.5,
            alignItems: "center",
            "& > *": { my: "0 !important" },
          }}
        >
          {state.caution && !ended && (
            <Box
              role="alert"
              sx={{
                display: "inline-flex",

                gap: 1,
                border: `3px solid ${ink.watchFill}`,
                bgcolor: ink.sheet,
                px: 1.5,
                py: 0.5,
                mt: 0.75,
                fontWeight: 600,
              }}
            >
              <span aria-hidden="true" style={{ color: ink.watch }}>
                ▲
              </span>
              {state.caution}
            </Box>
          )}
          {bench.refused && <Notice kind="problem">{bench.refused}</Notice>}
          {busy && (
            <Notice kind="caution">
              This trial is open at another bench. Follow it there, or{" "}
              <Button size="small" variant="outlined" onClick={() => void bench.takeOver()}>
                take it over here
              </Button>
            </Notice>
          )}
          {warnings !== "" && !ended && (
            <Typography sx={{ color: ink.watch, flex: 1 }}>{warnings}</Typography>
          )}
        </Box>
      )}

      <Box ref={ruleRef} sx={{ overflow: "hidden" }}>
        <LoadRule
          heldKg={shown.held_kg}
          onKg={shown.load_on_kg}
          marks={marks}
          expected={state.estimate ? { low: state.estimate.low_kg, high: state.estimate.high_kg } : null}
          unitKg={unitKg}
          symbol={units === "us" ? "lb" : "kg"}
          width={ruleWidth}
        />
      </Box>

      <Box
        sx={{ display: "flex", gap: 3, alignItems: "center", borderTop: `1px solid ${ink.line}`, pt: 0.5 }}
      >
        <StepStrip
          steps={shown.steps}
          name={(item, count) => itemWords(run.kit, item, count)}
          signs={signs}
        />
        <SavingWords bench={bench} />
      </Box>

      <BenchKeys
        bench={bench}
        shown={shown}
        holdS={holdS}
        waitOver={overAt !== null}
        onHeld={settle}
        listening={panel === null}
        leaving={leaving}
        onPanel={setPanel}
        onGoOn={goOn}
      />
      <BenchPanels panel={panel} placed={shown.placed} act={act} onClose={() => setPanel(null)} />
    </Box>
  );
}

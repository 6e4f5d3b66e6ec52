/** The rule along the foot of the drawing, and under it the steps so far and whether they are saved. */
import { Box } from "@mui/material";
import { useState } from "react";
import type { Step, TrialResult, TrialState, UnitSystem } from "../../api/types";
import { LoadRule, type RuleMark } from "../../drawing/LoadRule";
import { RoundRule } from "../../drawing/RoundRule";
import { OUNCE_KG, POUND_KG } from "../../shared/format";
import { ink } from "../../shared/theme";
import { SoundButton } from "../../shared/SoundButton";
import { useUnits } from "../../shared/units";
import { useRunState } from "../run";
import { CorrectPanel } from "./CorrectPanel";
import { stepWords } from "./kitWords";
import { PieceRow } from "./PieceRow";
import { sizeWords } from "./roundWords";
import { RoundStrip, SavingWords, StepStrip } from "./TrialStrips";
import type { BenchTrial } from "./useTrial";
import { useWidth } from "./useWidth";

/** Grams and ounces for light structures, kilograms and pounds for heavy ones. */
function ruleUnit(units: UnitSystem, onKg: number, marks: readonly RuleMark[]) {
  const light = Math.max(onKg, ...marks.map((mark) => mark.kg)) < 0.4;
  if (units === "us") return light ? { unitKg: OUNCE_KG, symbol: "oz" } : { unitKg: POUND_KG, symbol: "lb" };
  return light ? { unitKg: 0.001, symbol: "g" } : { unitKg: 1, symbol: "kg" };
}

interface Props {
  bench: BenchTrial;
  state: TrialState;
  shown: TrialResult;
  marks: readonly RuleMark[];
  /** Whether load goes on now, or rounds are made. */
  loading: boolean;
}

export function TrialFoot({ bench, state, shown, marks, loading }: Props) {
  const { state: runState, family } = useRunState();
  const { run } = runState;
  const units = useUnits();
  const [ruleRef, width] = useWidth();
  const [righting, setRighting] = useState<Step | null>(null);
  const plan = state.round_plan;
  const signs = new Map(family.observations.map((mode) => [mode.key, mode.label]));
  return (
    <>
      <Box ref={ruleRef} sx={{ overflow: "hidden" }}>
        {plan !== null && !loading ? (
          <RoundRule
            plan={plan}
            shown={shown}
            width={width}
            label={(size) => sizeWords(plan.procedure.size_kind, size, units)}
          />
        ) : run.young ? (
          <PieceRow kit={run.kit} shown={shown} />
        ) : (
          <LoadRule
            heldKg={shown.held_kg}
            onKg={shown.load_on_kg}
            marks={marks}
            expected={state.estimate ? { low: state.estimate.low_kg, high: state.estimate.high_kg } : null}
            {...ruleUnit(units, shown.load_on_kg, marks)}
            width={width}
          />
        )}
      </Box>
      <Box
        sx={{ display: "flex", gap: 3, alignItems: "center", borderTop: `1px solid ${ink.line}`, pt: 0.5 }}
      >
        {loading ? (
          <StepStrip
            steps={shown.steps}
            name={(step) => stepWords(run.kit, step, units)}
            signs={signs}
            corrected={shown.corrected}
            onStep={setRighting}
          />
        ) : (
          <RoundStrip shown={shown} measures={family.bench.measures} units={units} />
        )}
        <SoundButton small />
        <SavingWords bench={bench} />
      </Box>
      {righting && (
        <CorrectPanel
          entry={{
            id: righting.event_id,
            kind: righting.kind,
            data: righting.kind === "load_reading" ? {} : { item: righting.item, count: righting.count },
          }}
          onCorrect={(data) => bench.act("correct", data)}
          onClose={() => setRighting(null)}
        />
      )}
    </>
  );
}

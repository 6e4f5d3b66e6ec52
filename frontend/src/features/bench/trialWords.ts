/** What the bench says of a trial in large print: the lead, the figure, what stands beside and below it. */
import type { BenchMeasure, Family, RunState, TrialResult, TrialState, UnitSystem } from "../../api/types";
import {
  formatEstimate,
  formatMass,
  formatMassWithDoubt,
  formatRatio,
  massFigure,
  type Figure,
} from "../../shared/format";
import type { RuleMark } from "../../drawing/LoadRule";
import { pieceWord } from "./kitWords";
import { besideRound, measureWords, roundFigure } from "./roundWords";

export interface TrialWords {
  lead: string;
  how: string;
  figure: Figure;
  /** A second figure beside the wait, with its words. */
  second: { figure: string; says: string } | null;
  foot: string;
  /** What will be placed, in a line; while nothing but what carries it is on. */
  plan: string;
  marks: RuleMark[];
}

const LOAD_LEAD = {
  running: "",
  broke: "It held",
  ran_out: "It held at least",
  void: "Void, not scored. It had held",
  done: "Done. It held",
} as const;

/** How a trial ended, or what spoiled it: "Crimped", "Somebody knocked the bench". */
export function howItEnded(result: TrialResult, family: Family): string {
  const ways = [...family.failure_modes, ...family.loading_errors, ...family.run_out_reasons];
  return ways.find((way) => way.key === (result.mode ?? result.reason))?.label ?? "";
}

export function trialWords(
  state: TrialState,
  shown: TrialResult,
  seen: RunState,
  family: Family,
  units: UnitSystem,
): TrialWords {
  const { run, best_held } = seen;
  const marks: RuleMark[] = [
    ...seen.aims,
    ...(state.prediction_kg
      ? [{ label: `team says ${state.prediction_says}`, kg: state.prediction_kg }]
      : []),
    ...(best_held && best_held.held_kg > 0
      ? [
          {
            label: `best so far ${best_held.at_least ? "at least " : ""}${formatMass(best_held.held_kg, units)}`,
            kg: best_held.held_kg,
          },
        ]
      : []),
  ];
  if (state.round_plan && shown.held_kg === 0 && !shown.step_waiting) {
    const { lead, figure } = roundFigure(state.round_plan, shown, units);
    // Until the server has answered, how it ended says enough.
    const said = shown.outcome === "running" ? "" : state.ended || howItEnded(shown, family);
    const ownWeight = state.self_mass ? formatMass(state.self_mass.value, units) : "";
    return {
      lead: said ? `${said}. ${lead}` : lead,
      how: "",
      figure,
      second: besideRound(state.round_plan, shown, ownWeight),
      foot: shown.outcome === "running" ? "" : state.strength,
      plan: "",
      marks,
    };
  }
  const anything = shown.load_on_kg > 0;
  const lead =
    shown.outcome === "running"
      ? shown.step_waiting
        ? "Held before this step"
        : anything
          ? "Held"
          : "Nothing on it yet"
      : LOAD_LEAD[shown.outcome];
  const counts = family.bench.counts_pieces || run.young;
  const pieces: Figure = {
    value: String(shown.pieces_held),
    unit: pieceWord(run.kit, shown.pieces_held),
  };
  const ratio = ratioShown(state, shown);
  return {
    lead,
    how: howItEnded(shown, family),
    figure: counts ? pieces : massFigure(shown.held_kg, units),
    second:
      ratio !== null && !run.young
        ? { figure: `${formatRatio(ratio)} ×`, says: "its own weight" }
        : counts && !run.young && shown.held_kg > 0
          ? { figure: formatMass(shown.held_kg, units), says: "held" }
          : null,
    foot: run.young ? "" : footOfLoad(state, shown, family.bench.measures, units),
    plan:
      shown.pieces_on === 0 && !shown.step_waiting && state.plan.says !== ""
        ? `Plan: ${state.plan.says}.`
        : "",
    marks: run.young ? [] : marks,
  };
}

/** Times its own weight: as the server says, and of a step that has just held, before it has answered. */
function ratioShown({ ratio, self_mass, result }: TrialState, shown: TrialResult): number | null {
  if (shown.held_kg === result.held_kg) return ratio?.value ?? null;
  return self_mass && shown.held_kg > 0 ? shown.held_kg / self_mass.value : null;
}

function footOfLoad(
  state: TrialState,
  shown: TrialResult,
  measures: readonly BenchMeasure[],
  units: UnitSystem,
): string {
  const mass = state.self_mass;
  return [
    mass ? `Own weight ${formatMassWithDoubt(mass.value, mass.expanded_uncertainty, units)}.` : "",
    shown.step_waiting ? `On it now ${formatMass(shown.load_on_kg, units)}.` : "",
    ...shown.taken.slice(-1).map((reading) => {
      const measure = measures.find((spec) => spec.key === reading.key);
      return measure ? `${measure.label} ${measureWords(measure, reading.value_si, units)}.` : "";
    }),
    // Last, where a narrow line ends: the rule below shows it too.
    state.estimate
      ? `Expected ${formatEstimate(state.estimate.low_kg, units)} to ${formatEstimate(state.estimate.high_kg, units)}, from ${state.estimate.basis}.`
      : "",
  ]
    .filter(Boolean)
    .join(" ");
}

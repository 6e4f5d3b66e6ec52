/** What the bench says of a trial in large print: the lead, the figure, what stands beside and below it. */
import type { Family, RunState, TrialResult, TrialState, UnitSystem } from "../../api/types";
import {
  formatEstimate,
  formatLength,
  formatMass,
  formatMassWithDoubt,
  formatRatio,
  GRAVITY,
  massFigure,
  plural,
  type Figure,
} from "../../shared/format";
import type { RuleMark } from "../../drawing/LoadRule";
import { howItEnded } from "./resultWords";
import { outcomeWords, roundFigure } from "./roundWords";

export interface TrialWords {
  lead: string;
  how: string;
  figure: Figure;
  /** A second figure beside the wait, with its words. */
  second: { figure: string; says: string } | null;
  foot: string;
  marks: RuleMark[];
}

const LOAD_LEAD = {
  running: "",
  broke: "It held",
  ran_out: "It held at least",
  void: "Void, not scored. It had held",
  done: "Done. It held",
} as const;

/** The measurements so far by key, in SI. */
export const measuresOf = (shown: TrialResult): ReadonlyMap<string, number> =>
  new Map(shown.taken.map((one) => [one.key, one.value_si]));

export function trialWords(
  state: TrialState,
  shown: TrialResult,
  seen: RunState,
  family: Family,
  units: UnitSystem,
): TrialWords {
  const { run, best_held } = seen;
  const aim = run.setup["target_kg"];
  const margin = run.setup["margin"];
  const marks: RuleMark[] = [
    ...(aim
      ? [{ label: `${margin && margin > 1 ? "made for" : "target"} ${formatMass(aim, units)}`, kg: aim }]
      : []),
    ...(aim && margin && margin > 1
      ? [{ label: `with its margin ${formatMass(aim * margin, units)}`, kg: aim * margin }]
      : []),
    ...(state.prediction_kg
      ? [{ label: `team says ${formatMass(state.prediction_kg, units)}`, kg: state.prediction_kg }]
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
    const { lead, figure } = roundFigure(state.round_plan, shown, measuresOf(shown), units);
    const said = outcomeWords(state.round_plan.control, shown, family);
    return {
      lead: said ? `${said}. ${lead}` : lead,
      how: "",
      figure,
      second: secondOfRound(state, shown, units),
      foot: footOfRound(state, shown, units),
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
  const item = run.kit.find((one) => one.shape !== "platform");
  const counts = family.bench.counts_pieces || run.young;
  const pieces: Figure = {
    value: String(shown.pieces_held),
    unit: plural(item?.name ?? "piece", shown.pieces_held),
  };
  const ratio = state.self_mass && shown.held_kg > 0 ? shown.held_kg / state.self_mass.value : null;
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
    foot: run.young ? "" : footOfLoad(state, shown, units),
    marks: run.young ? [] : marks,
  };
}

function footOfLoad(state: TrialState, shown: TrialResult, units: UnitSystem): string {
  const mass = state.self_mass;
  return [
    mass ? `Own weight ${formatMassWithDoubt(mass.value, mass.standard_uncertainty, units)}.` : "",
    shown.step_waiting ? `On it now ${formatMass(shown.load_on_kg, units)}.` : "",
    state.estimate
      ? `Expected ${formatEstimate(state.estimate.low_kg, units)} to ${formatEstimate(state.estimate.high_kg, units)}, from ${state.estimate.basis}.`
      : "",
    ...shown.taken.slice(-1).map((one) => `${one.key} ${formatLength(one.value_si, units)}.`),
  ]
    .filter(Boolean)
    .join(" ");
}

function secondOfRound(
  state: TrialState,
  shown: TrialResult,
  units: UnitSystem,
): { figure: string; says: string } | null {
  const plan = state.round_plan;
  if (plan?.control === "shake") {
    const at = plan.planned.find((one) => one.size === (shown.rounds.at(-1)?.size ?? 1));
    return at
      ? {
          figure: `${Number(at.frequency_hz.toFixed(2))} Hz`,
          says: `${(at.acceleration_m_s2 / GRAVITY).toFixed(2)} g at its peak`,
        }
      : null;
  }
  if (plan?.control === "throw") return { figure: String(shown.rounds.length), says: "thrown" };
  const apart = measuresOf(shown).get("apart");
  if (plan?.control === "drop" && apart !== undefined) return { figure: String(apart), says: "pieces apart" };
  const height = measuresOf(shown).get("height");
  if (plan?.control === "stand" && height !== undefined && state.self_mass)
    return { figure: formatMass(state.self_mass.value, units), says: "own weight" };
  return null;
}

function footOfRound(state: TrialState, shown: TrialResult, units: UnitSystem): string {
  const plan = state.round_plan;
  const lasted = shown.rounds.at(-1)?.lasted_s;
  const bounds = shown.survived;
  const size = (value: number): string =>
    plan?.control === "drop" ? formatLength(value, units) : `level ${value}`;
  if (shown.outcome === "broke" && bounds && plan && plan.control !== "stand")
    return [
      `Its strength lies between ${size(bounds.low)} and ${size(bounds.high ?? bounds.low)}.`,
      lasted ? `It went after ${lasted.toFixed(1)} s.` : "",
    ].join(" ");
  if (shown.outcome === "ran_out" && bounds) return `At least ${size(bounds.low)}.`;
  return "";
}

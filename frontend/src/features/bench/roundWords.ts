/** Tests in rounds in figures: what the large figure tells and what stands beside it. For display only. */
import type {
  BenchMeasure,
  KitItem,
  QuantityKind,
  RoundPlan,
  TrialResult,
  TrialState,
  UnitSystem,
} from "../../api/types";
import { formatQuantity, INCH_M, massFigure, type Figure } from "../../shared/format";
import { pieceWord } from "./kitWords";

/** A height as a measuring pole shows it. */
function poleFigure(m: number, units: UnitSystem): Figure {
  if (units === "us") return { value: (m / INCH_M).toFixed(1), unit: "in" };
  return m >= 1
    ? { value: m.toFixed(2), unit: "m" }
    : { value: String(Number((m * 100).toFixed(1))), unit: "cm" };
}

/** The size of a round: a height, a time, a level. */
export function sizeFigure(kind: QuantityKind, size: number, units: UnitSystem): Figure {
  if (kind === "length") return poleFigure(size, units);
  return { value: String(size), unit: kind === "time" ? "s" : "" };
}

export const sizeWords = (kind: QuantityKind, size: number, units: UnitSystem): string => {
  const { value, unit } = sizeFigure(kind, size, units);
  return `${value} ${unit}`.trim();
};

/** Something measured at the bench, as a figure. */
export function measureFigure(measure: BenchMeasure, value: number, units: UnitSystem): Figure {
  if (measure.yes_no) return { value: value > 0 ? "yes" : "no", unit: "" };
  if (measure.kind === "count") return { value: String(value), unit: measure.unit };
  const text = formatQuantity(value, measure.kind, units);
  // The unit is after the last space: thousands are grouped.
  const [, figure = text, unit = ""] = /^(.*)\s(\S+)$/.exec(text) ?? [];
  return { value: figure, unit };
}

export const measureWords = (measure: BenchMeasure, value: number, units: UnitSystem): string => {
  const figure = measureFigure(measure, value, units);
  return measure.kind === "count" ? figure.value : `${figure.value} ${figure.unit}`.trim();
};

/** The measures that were taken, each with its latest value, in the order of the family. */
function taken(plan: RoundPlan, shown: TrialResult): (readonly [BenchMeasure, number])[] {
  const values = new Map(shown.taken.map((measure) => [measure.key, measure.value_si]));
  return plan.measures.flatMap((measure) => {
    const value = values.get(measure.key);
    return value === undefined ? [] : [[measure, value] as const];
  });
}

/** The large figure of a test in rounds, and the words before it. */
export function roundFigure(
  plan: RoundPlan,
  shown: TrialResult,
  units: UnitSystem,
): { lead: string; figure: Figure } {
  const { procedure } = plan;
  const telling = taken(plan, shown).find(([measure]) => measure.lead !== "");
  if (telling) return { lead: telling[0].lead, figure: measureFigure(...telling, units) };
  const outOf = plan.out_of.replace("{made}", String(shown.rounds.length));
  switch (procedure.shows) {
    case "survived": {
      const held = shown.rounds.filter((round) => round.state === "held").at(-1)?.size;
      const figure = sizeFigure(procedure.size_kind, shown.survived?.low ?? held ?? 0, units);
      return { lead: procedure.lead, figure: { ...figure, unit: outOf || figure.unit } };
    }
    case "hits":
      return { lead: procedure.lead, figure: { value: String(shown.hits), unit: outOf } };
    default:
      return shown.stood && procedure.ask !== ""
        ? { lead: procedure.ask, figure: { value: "?", unit: units === "us" ? "in" : "mm" } }
        : { lead: procedure.lead, figure: sizeFigure("time", plan.hold_s, units) };
  }
}

/** What those see in large who watch a trial: its words, its figure, and its rounds while it is one of rounds. */
export function watched(
  state: TrialState,
  show: { kit: readonly KitItem[]; counts_pieces: boolean; young: boolean },
  units: UnitSystem,
): { lead: string; figure: Figure; rounds: RoundPlan | null } {
  const { result, round_plan: rounds } = state;
  if (rounds !== null && result.held_kg === 0 && !result.step_waiting)
    return { ...roundFigure(rounds, result, units), rounds };
  const pieces = { value: String(result.pieces_held), unit: pieceWord(show.kit, result.pieces_held) };
  return {
    lead: result.step_waiting ? "Held before this step" : "Held",
    figure: show.counts_pieces || show.young ? pieces : massFigure(result.held_kg, units),
    rounds: null,
  };
}

/** What stands beside the large figure of a test in rounds. */
export function besideRound(
  plan: RoundPlan,
  shown: TrialResult,
  ownWeight: string,
): { figure: string; says: string } | null {
  const measures = taken(plan, shown);
  const beside = measures.find(([measure]) => measure.beside !== "");
  if (beside) return { figure: String(beside[1]), says: beside[0].beside };
  if (plan.procedure.counted !== "")
    return { figure: String(shown.rounds.length), says: plan.procedure.counted };
  const round = plan.planned.find(
    (round) => round.size === (shown.rounds.at(-1)?.size ?? plan.planned[0]?.size),
  );
  if (round && round.beside !== "") return { figure: round.beside, says: round.beside_says };
  const leads = measures.some(([measure]) => measure.lead !== "");
  return leads && ownWeight !== "" ? { figure: ownWeight, says: "own weight" } : null;
}

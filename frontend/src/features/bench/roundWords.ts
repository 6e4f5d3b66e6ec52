/** Rounds in words and figures: what is next, what was survived, what the bench asks. For display only. */
import type { Control, Family, PlannedRound, RoundPlan, TrialResult, UnitSystem } from "../../api/types";
import { formatLength, GRAVITY, INCH_M, type Figure } from "../../shared/format";

/** A drop height: centimetres are what a measuring pole shows. */
export function heightFigure(m: number, units: UnitSystem): Figure {
  if (units === "us") return { value: (m / INCH_M).toFixed(1), unit: "in" };
  return m >= 1
    ? { value: m.toFixed(2), unit: "m" }
    : { value: String(Number((m * 100).toFixed(1))), unit: "cm" };
}

export const heightWords = (m: number, units: UnitSystem): string => {
  const { value, unit } = heightFigure(m, units);
  return `${value} ${unit}`;
};

/** What a planned round is called on its key. */
export function roundTitle(plan: RoundPlan, next: PlannedRound, units: UnitSystem): string {
  switch (plan.control) {
    case "stand":
      return "Let go";
    case "shake":
      return `Shake level ${next.number}`;
    case "drop":
      return `Drop from ${heightWords(next.size, units)}`;
    default:
      return `Throw ${next.number}`;
  }
}

export function roundNote(plan: RoundPlan, next: PlannedRound): string {
  switch (plan.control) {
    case "stand":
      return `it has to stand ${plan.hold_s} s`;
    case "shake":
      return `${Number(next.frequency_hz.toFixed(2))} Hz, ${(next.acceleration_m_s2 / GRAVITY).toFixed(2)} g, for ${plan.hold_s} s`;
    case "drop":
      return "flat, on the board";
    default:
      return plan.attack_s === null ? `throw ${next.number} of ${plan.planned.length}` : "against the clock";
  }
}

/** How a round that went well is told on its key. */
export const SURVIVED: Record<Control, string> = {
  load: "It held",
  stand: "It stood",
  shake: "Still standing",
  drop: "All joints held",
  throw: "",
};

export const WENT: Record<Control, string> = {
  load: "It went",
  stand: "It fell",
  shake: "It went",
  drop: "Opened",
  throw: "",
};

/** The big figure of a test in rounds, and the words before it. */
export function roundFigure(
  plan: RoundPlan,
  shown: TrialResult,
  measures: ReadonlyMap<string, number>,
  units: UnitSystem,
): { lead: string; figure: Figure } {
  const low = shown.survived?.low ?? shown.rounds.filter((one) => one.state === "held").at(-1)?.size ?? 0;
  switch (plan.control) {
    case "stand": {
      const height = measures.get("height");
      if (height !== undefined) {
        const [value = "", unit = ""] = formatLength(height, units).split(" ");
        return { lead: "Its height", figure: { value, unit } };
      }
      return shown.stood
        ? { lead: "It stood. How high is it?", figure: { value: "?", unit: units === "us" ? "in" : "mm" } }
        : { lead: "It has to stand for", figure: { value: String(plan.hold_s), unit: "s" } };
    }
    case "shake":
      return { lead: "Levels survived", figure: { value: String(low), unit: `of ${plan.planned.length}` } };
    case "drop":
      return { lead: "Survived a drop of", figure: heightFigure(low, units) };
    default: {
      const left = measures.get("left");
      if (left !== undefined)
        return { lead: "Left standing", figure: { value: String(left), unit: "pieces" } };
      return {
        lead: "Hits",
        figure: {
          value: String(shown.hits),
          unit: plan.attack_s === null ? `of ${plan.planned.length} throws` : `of ${shown.rounds.length}`,
        },
      };
    }
  }
}

/** What an ended trial is called before its figure. */
export function outcomeWords(control: Control, shown: TrialResult, family: Family): string {
  const mode = [...family.failure_modes, ...family.run_out_reasons, ...family.loading_errors].find(
    (one) => one.key === (shown.mode ?? shown.reason),
  );
  const how = mode ? `. ${mode.label}` : "";
  switch (shown.outcome) {
    case "broke":
      if (control === "stand" && shown.held_kg === 0) return `It fell${how}`;
      return `${control === "drop" ? "Came apart" : control === "shake" ? "Went" : "Broke"}${how}`;
    case "ran_out":
      return `Stopped, still whole${how}`;
    case "void":
      return `Void, not scored${how}`;
    case "done":
      return control === "throw" ? "The attack is over" : "Measured";
    default:
      return "";
  }
}

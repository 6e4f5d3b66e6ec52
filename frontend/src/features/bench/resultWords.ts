/** A result in few words, for the queue and the page after a trial. */
import type { Design, Family, Run, TrialResult, UnitSystem } from "../../api/types";
import { formatLength, formatMass } from "../../shared/format";
import { heightWords } from "./roundWords";

/** What a trial that counts came to: "1.24 kg", "at least 620 g", "level 3", "812 mm", "18 left". */
export function resultWords(result: TrialResult, family: Family, run: Run, units: UnitSystem): string {
  const least = result.outcome === "ran_out" ? "at least " : "";
  const measured = new Map(result.taken.map((one) => [one.key, one.value_si]));
  switch (family.control) {
    case "stand": {
      if (!result.stood) return "fell";
      const height = measured.get("height");
      return height === undefined ? "stood" : formatLength(height, units);
    }
    case "shake":
      return `${least}level ${result.survived?.low ?? 0}`;
    case "drop":
      return least + heightWords(result.survived?.low ?? 0, units);
    case "throw": {
      const left = measured.get("left");
      const high = measured.get("height_left");
      if (left !== undefined) return `${left} left`;
      return high === undefined ? "" : `${formatLength(high, units)} left`;
    }
    default:
      if (family.bench.counts_pieces || run.young)
        return `${least}${result.pieces_held} ${result.pieces_held === 1 ? "piece" : "pieces"}`;
      return least + formatMass(result.held_kg, units);
  }
}

/** The sentence above a trial that has just ended. */
export function resultHeadline(
  design: Design,
  result: TrialResult,
  family: Family,
  run: Run,
  units: UnitSystem,
): string {
  const name = design.team.name;
  const words = resultWords(result, family, run, units);
  switch (family.control) {
    case "stand":
      return result.stood ? `${name} stands ${words} tall.` : `${name} fell.`;
    case "shake":
    case "drop":
      return `${name} survived ${words}.`;
    case "throw":
      return `${name} has ${words}, after ${result.hits} hits.`;
    default:
      return `${name} held ${words}.`;
  }
}

/** How a trial ended, or what spoiled it, as the bench lists it: "Crimped", "Somebody knocked the bench". */
export function howItEnded(result: TrialResult, family: Family): string {
  const ways = [...family.failure_modes, ...family.loading_errors, ...family.run_out_reasons];
  return ways.find((one) => one.key === (result.mode ?? result.reason))?.label ?? "";
}

/** How a trial stands in a line: "held 490 g, crimped", "void, somebody knocked the bench", "under way". */
export function trialLine(result: TrialResult, family: Family, run: Run, units: UnitSystem): string {
  const came = {
    running: "under way",
    void: "void",
    broke: "",
    ran_out: "",
    done: "",
  }[result.outcome];
  const words = came || resultWords(result, family, run, units);
  return [words, howItEnded(result, family).toLowerCase()].filter(Boolean).join(", ");
}

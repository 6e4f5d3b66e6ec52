/** The axis on which scores of a school are drawn. */
import { INCH_M, POUND_KG } from "../../shared/format";
import type { Comparison, UnitSystem } from "../../api/types";

export interface ScoreAxis {
  /** What one of the axis' units is in the score's own. */
  unit: number;
  symbol: string;
}

export function axisOf(school: Comparison["school"], survived: string, units: UnitSystem): ScoreAxis {
  const us = units === "us";
  const metres = us ? { unit: INCH_M, symbol: "in" } : { unit: 0.001, symbol: "mm" };
  switch (school) {
    case "strength_to_weight":
      return { unit: 1, symbol: "×" };
    case "threshold":
      return { unit: 1, symbol: "× target" };
    case "tallest":
      return metres;
    case "survived":
      return survived === "length" ? metres : { unit: 1, symbol: "" };
    case "capacity":
      return { unit: 1, symbol: "pieces" };
    case "left_standing":
      return { unit: 0.01, symbol: "%" };
    case "mix":
      return { unit: 1, symbol: "points" };
    default:
      return us ? { unit: POUND_KG, symbol: "lb" } : { unit: 1, symbol: "kg" };
  }
}

/** A score with its symbol, to three figures. */
export function scoreText(value: number, { unit, symbol }: ScoreAxis): string {
  return `${Number((value / unit).toPrecision(3))} ${symbol}`.trim();
}

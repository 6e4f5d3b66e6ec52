/** The unit that is meant where none is typed: the one of the system that is chosen on top, or a class's own. */
import type { QuantityKind, UnitSystem } from "../api/types";

const ASSUMED: Partial<Record<QuantityKind, Record<UnitSystem, string>>> = {
  length: { metric: "mm", us: "in" },
  mass: { metric: "g", us: "oz" },
  time: { metric: "s", us: "s" },
  frequency: { metric: "Hz", us: "Hz" },
  area: { metric: "cm²", us: "in²" },
};

/** A figure without a unit: digits and what goes with them, no letters and no marks of feet and inches. */
const BARE = /^[^\p{L}'"′″’”]*\d[^\p{L}'"′″’”]*$/u;

/**
 * The text with the unit that is meant, so that it is seen before it counts. What has a unit, or is no figure, stays as
 * it was typed. `own` is a unit that a young class counts lengths in.
 */
export function assumeUnit(text: string, kind: QuantityKind, units: UnitSystem, own?: string | null): string {
  const unit = kind === "length" && own ? `${own}s` : ASSUMED[kind]?.[units];
  return unit !== undefined && BARE.test(text) ? `${text.trim()} ${unit}` : text;
}

/** How a reading of this kind is typed, for a field that is empty. */
export const typedExample = (kind: QuantityKind, units: UnitSystem): string =>
  ({
    length: units === "us" ? "1 3/8 in" : "34 mm",
    mass: units === "us" ? "1.4 oz" : "38.4 g",
    time: "25 s",
    count: "12",
    frequency: "1.4 Hz",
    area: units === "us" ? "12 in x 8 in" : "30 cm x 20 cm",
  })[kind as "length"] ?? "";

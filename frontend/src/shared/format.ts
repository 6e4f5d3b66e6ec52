/** Numbers to words for the screen. Values come in SI; which units are shown is the teacher's choice. */
import type { FactKind, QuantityKind, UnitSystem } from "../api/types";

export const POUND_KG = 0.45359237;
export const OUNCE_KG = POUND_KG / 16;
export const INCH_M = 0.0254;
/** Standard gravity, to show a weight as the mass that has it. */
export const GRAVITY = 9.80665;

export interface Figure {
  value: string;
  unit: string;
}

function fixed(value: number, digits: number): string {
  return value.toLocaleString("en", {
    minimumFractionDigits: digits,
    maximumFractionDigits: digits,
    useGrouping: false,
  });
}

function trimmed(value: number, digits: number): string {
  return String(Number(value.toFixed(digits)));
}

/** Thousands apart, as the core writes them. */
const grouped = (figures: string): string => figures.replace(/\B(?=(\d{3})+(?!\d)(?=\.|$))/g, " ");

/** A mass as a figure and its unit apart, for large print. */
export function massFigure(kg: number, units: UnitSystem): Figure {
  if (units === "us") {
    return Math.abs(kg) >= POUND_KG
      ? { value: fixed(kg / POUND_KG, 2), unit: "lb" }
      : { value: fixed(kg / OUNCE_KG, 2), unit: "oz" };
  }
  if (Math.abs(kg) >= 1) return { value: fixed(kg, 3), unit: "kg" };
  return { value: trimmed(kg * 1000, 1), unit: "g" };
}

export function formatMass(kg: number, units: UnitSystem): string {
  const { value, unit } = massFigure(kg, units);
  return `${value} ${unit}`;
}

export function formatLength(m: number, units: UnitSystem): string {
  if (units === "us") {
    const inches = m / INCH_M;
    const all = Math.round(Math.abs(inches) * 100) / 100;
    const feet = Math.floor(all / 12);
    if (feet < 3) return `${fixed(inches, 2)} in`;
    const rest = Math.round((all - 12 * feet) * 100) / 100;
    return `${inches < 0 ? "-" : ""}${feet} ft${rest > 0 ? ` ${trimmed(rest, 2)} in` : ""}`;
  }
  return Math.abs(m) >= 1 ? `${grouped(trimmed(m, 3))} m` : `${grouped(trimmed(m * 1000, 1))} mm`;
}

/** An area or a volume, in three figures. */
export function formatPower(si: number, kind: "area" | "volume", units: UnitSystem): string {
  const power = kind === "area" ? 2 : 3;
  const litres = kind === "volume" && units === "metric" && si >= 0.001;
  const size = si / (litres ? 0.001 : (units === "us" ? INCH_M : 0.01) ** power);
  const unit = litres ? "L" : `${units === "us" ? "in" : "cm"}${kind === "area" ? "²" : "³"}`;
  return `${grouped(String(Number(size.toPrecision(3))))} ${unit}`;
}

/** A reading of any kind. */
export function formatQuantity(si: number, kind: QuantityKind, units: UnitSystem): string {
  if (kind === "mass") return formatMass(si, units);
  if (kind === "length") return formatLength(si, units);
  if (kind === "area" || kind === "volume") return formatPower(si, kind, units);
  return `${si}${kind === "time" ? " s" : kind === "frequency" ? " Hz" : ""}`;
}

/** A mass and how far it can be off, both in kg. */
export function formatMassWithDoubt(kg: number, offKg: number, units: UnitSystem): string {
  const unit = units === "us" ? OUNCE_KG : 0.001;
  const symbol = units === "us" ? "oz" : "g";
  const doubt = offKg / unit;
  const digits = doubt > 0 ? Math.min(3, Math.max(0, Math.ceil(-Math.log10(doubt)))) : 1;
  return `${fixed(kg / unit, Math.max(1, digits))} ± ${trimmed(doubt, Math.max(1, digits))} ${symbol}`;
}

export function formatRatio(ratio: number): string {
  return fixed(ratio, 1);
}

/** A load on a ladder: as the mass that weighs as much, or as a force where it pushes. Two or three figures. */
export function formatLoad(newtons: number, push: boolean, units: UnitSystem): string {
  if (push) return `${Number(newtons.toPrecision(2))} N`;
  const kg = newtons / GRAVITY;
  if (kg <= 0) return formatMass(0, units);
  const rounded = Number(kg.toPrecision(2));
  return units === "metric" && rounded >= 1 ? `${rounded} kg` : formatMass(rounded, units);
}

/** An expected mass: two figures, because an estimate deserves no more. */
export function formatEstimate(kg: number, units: UnitSystem): string {
  return formatLoad(kg * GRAVITY, false, units);
}

/** How thick a sheet is: three figures. */
export function formatThickness(m: number, units: UnitSystem): string {
  return units === "us" ? `${fixed(m / INCH_M, 4)} in` : `${Number((m * 1000).toPrecision(3))} mm`;
}

/** A value as a teacher could have typed it, for a field that a slider moves. */
export function typedText(value: number, kind: QuantityKind, units: UnitSystem): string {
  switch (kind) {
    case "length":
      return units === "us" ? `${trimmed(value / INCH_M, 3)} in` : `${trimmed(value * 1000, 2)} mm`;
    case "mass":
      if (units === "us") return `${trimmed(value / OUNCE_KG, 2)} oz`;
      return value >= 1 ? `${trimmed(value, 3)} kg` : `${trimmed(value * 1000, 2)} g`;
    case "frequency":
      return `${trimmed(value, 2)} Hz`;
    case "time":
      return `${trimmed(value, 1)} s`;
    case "count":
      return String(Math.round(value));
    case "area":
    case "volume":
      return formatPower(value, kind, units);
  }
}

/** A figure of a draft in words. */
export function formatFact(value: number, kind: FactKind, units: UnitSystem): string {
  switch (kind) {
    case "length":
      return Math.abs(value) >= 1 && units === "metric"
        ? `${trimmed(value, 2)} m`
        : formatLength(value, units);
    case "mass":
      if (units === "metric" && Math.abs(value) >= 1) return `${Number(value.toPrecision(3))} kg`;
      return formatMass(Number(value.toPrecision(3)), units);
    case "force":
      return `${Number(value.toPrecision(3))} N`;
    case "frequency":
      return `${trimmed(value, 2)} Hz`;
    case "angle":
      return `${trimmed(value, 1)}°`;
    case "share":
      return `${trimmed(value * 100, value < 0.1 ? 1 : 0)} %`;
    case "ratio":
      return `${Number(value.toPrecision(2))} ×`;
    case "count":
      return String(Math.round(value));
    case "words":
      return "";
  }
}

export function formatPercent(share: number): string {
  return `${trimmed(share * 100, share < 0.1 ? 1 : 0)} %`;
}

/** A moment of a day: "10:42". */
export const formatClock = (iso: string): string =>
  new Date(iso).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });

/** A moment: "3 November, 10:42". */
export const formatMoment = (iso: string): string =>
  `${new Date(iso).toLocaleDateString("en-GB", { day: "numeric", month: "long" })}, ${formatClock(iso)}`;

export function formatDate(iso: string): string {
  return new Date(`${iso}T12:00:00`).toLocaleDateString("en-GB", {
    day: "numeric",
    month: "long",
    year: "numeric",
  });
}

/** A thing that is counted, as the core writes it: "nut, M12" of one, else "nuts, M12", "pennies", "boxes". */
export function plural(noun: string, count = 2): string {
  if (count === 1) return noun;
  const [head = "", ...rest] = noun.split(",");
  const many = /[^aeiou]y$/.test(head)
    ? `${head.slice(0, -1)}ies`
    : head + (/(s|x|z|ch|sh)$/.test(head) ? "es" : "s");
  return [many, ...rest].join(",");
}

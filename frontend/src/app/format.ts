/** Numbers to words for the screen. Values come in SI; which units are shown is the teacher's choice. */
import type { UnitSystem } from "../api/types";

const POUND_KG = 0.45359237;
const OUNCE_KG = POUND_KG / 16;
const INCH_M = 0.0254;

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
  return units === "us" ? `${fixed(m / INCH_M, 2)} in` : `${trimmed(m * 1000, 1)} mm`;
}

/** A mass with its expanded uncertainty (coverage factor 2). */
export function formatMassWithDoubt(kg: number, standardUncertainty: number, units: UnitSystem): string {
  const unit = units === "us" ? OUNCE_KG : 0.001;
  const symbol = units === "us" ? "oz" : "g";
  const doubt = (2 * standardUncertainty) / unit;
  const digits = doubt > 0 ? Math.min(3, Math.max(0, Math.ceil(-Math.log10(doubt)))) : 1;
  return `${fixed(kg / unit, Math.max(1, digits))} ± ${trimmed(doubt, Math.max(1, digits))} ${symbol}`;
}

export function formatRatio(ratio: number): string {
  return fixed(ratio, 1);
}

export function formatPercent(share: number): string {
  return `${trimmed(share * 100, share < 0.1 ? 1 : 0)} %`;
}

export function formatDate(iso: string): string {
  return new Date(`${iso}T12:00:00`).toLocaleDateString("en-GB", {
    day: "numeric",
    month: "long",
    year: "numeric",
  });
}

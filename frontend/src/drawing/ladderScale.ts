/** How far a ladder reaches: the weakest states decide, the strong ones run off its end. Arithmetic only. */
import type { LimitState } from "../api/types";
import { ticks } from "./ticks";

export function ladderScale(
  states: readonly Pick<LimitState, "low_n" | "high_n">[],
  mark: number | null,
  unit: number,
): { end: number; marks: number[] } {
  const highs = states.map((state) => state.high_n ?? Infinity).filter(Number.isFinite);
  const weakest = highs[0] ?? Math.max(1e-3, ...states.map((state) => state.low_n ?? 0));
  const wanted = Math.min(3.2 * weakest, Math.max(...highs, weakest));
  const end = Math.max(1e-6, wanted, mark !== null && mark < 4 * weakest ? mark * 1.08 : 0) * 1.04;
  return { end, marks: ticks(end / unit, 5) };
}

/** How far a ladder reaches: the weakest states decide, the strong ones run off its end. Arithmetic only. */
import type { LimitState } from "../api/types";

export function ladderEnd(
  states: readonly (Pick<LimitState, "low_n" | "high_n"> & Partial<LimitState>)[],
  mark: number | null,
): number {
  // What its own weight brings about needs no room: the weakest of the others sets the scale.
  const loaded = states.filter((state) => !state.by_itself);
  const highs = loaded.map((state) => state.high_n ?? Infinity).filter(Number.isFinite);
  const weakest = highs[0] ?? Math.max(1e-3, ...loaded.map((state) => state.low_n ?? 0));
  const wanted = Math.min(3.2 * weakest, Math.max(...highs, weakest));
  return Math.max(1e-6, wanted, mark !== null && mark < 4 * weakest ? mark * 1.08 : 0) * 1.04;
}

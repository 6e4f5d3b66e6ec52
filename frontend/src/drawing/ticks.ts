/** Round numbers for an axis. */

/** Steps of 1, 2 or 5 times a power of ten, so that about `wanted` of them fit below `max`. */
export function ticks(max: number, wanted = 8): number[] {
  if (!(max > 0)) return [0];
  const raw = max / wanted;
  const power = 10 ** Math.floor(Math.log10(raw));
  const step = [1, 2, 5, 10].map((m) => m * power).find((s) => s >= raw) ?? raw;
  const count = Math.floor(max / step + 1e-9);
  return Array.from({ length: count + 1 }, (_, i) => Number((i * step).toPrecision(12)));
}

/** A number as an axis writes it: no more digits than it needs. */
export function tickLabel(value: number): string {
  return String(Number(value.toPrecision(6)));
}

/** What this browser keeps and could not send yet: with every request it says how old the oldest is, for who watches. */

export const UNSENT_HEADER = "X-Girder-Unsent";
const since = new Map<string, number>();

/** Since when the oldest of something (a trial) waits [ms]; null when nothing of it does any more. */
export function waitsSince(of: string, ms: number | null): void {
  if (ms === null || Number.isNaN(ms)) since.delete(of);
  else since.set(of, ms);
}

/** How long the oldest has waited [s]; null when nothing waits. */
export function oldestUnsentS(now = Date.now()): number | null {
  if (since.size === 0) return null;
  return Math.max(0, Math.round((now - Math.min(...since.values())) / 1000));
}

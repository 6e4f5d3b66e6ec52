/**
 * A presenter's clicker or a foot switch: whatever key it sends can be learned, and then goes on like Enter. One that
 * sends its key again and again is heard once.
 */
import { useSyncExternalStore } from "react";

const KEPT = "girder.clicker";
/** Presses that follow each other faster than this are one [ms]. */
const AGAIN_MS = 400;

const listeners = new Set<() => void>();
let learned: string | null | undefined;
let last = -Infinity;

function key(): string | null {
  if (learned !== undefined) return learned;
  try {
    learned = window.localStorage.getItem(KEPT);
  } catch {
    learned = null;
  }
  return learned;
}

/** Learn the key that the clicker sends, or forget it. */
export function learnClicker(sent: string | null): void {
  learned = sent;
  try {
    if (sent === null) window.localStorage.removeItem(KEPT);
    else window.localStorage.setItem(KEPT, sent);
  } catch {
    // Then it is so till the page is left.
  }
  listeners.forEach((listener) => listener());
}

export const useClicker = (): string | null =>
  useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, key);

/** Whether a pressed key is the clicker's; "again" where it only repeats itself. */
export function clicked(event: Pick<KeyboardEvent, "key" | "repeat" | "timeStamp">): "no" | "once" | "again" {
  if (key() === null || event.key !== key()) return "no";
  const again = event.repeat || event.timeStamp - last < AGAIN_MS;
  last = event.timeStamp;
  return again ? "again" : "once";
}

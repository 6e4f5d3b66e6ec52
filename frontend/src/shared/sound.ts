/**
 * What is heard: a soft tick in the last seconds of a wait, one tone for "it held", others for the clock's warnings. Made
 * in the browser; on unless it was switched off, which a browser remembers.
 */
import { useEffect, useRef, useSyncExternalStore } from "react";

export type Heard = "tick" | "held" | "warn" | "over";

/** Each as notes one after the other: how high [Hz], how long [s], how loud. */
const NOTES: Record<Heard, readonly (readonly [number, number, number])[]> = {
  tick: [[880, 0.05, 0.08]],
  held: [
    [523, 0.12, 0.16],
    [784, 0.2, 0.16],
  ],
  warn: [
    [660, 0.18, 0.2],
    [660, 0.18, 0.2],
  ],
  over: [
    [440, 0.3, 0.24],
    [330, 0.3, 0.24],
    [220, 0.6, 0.24],
  ],
};
/** The last seconds of a wait that tick. */
const LAST_S = 3;
const KEPT = "girder.sound";

let context: AudioContext | null = null;
const listeners = new Set<() => void>();

function stored(): string | null {
  try {
    return window.localStorage.getItem(KEPT);
  } catch {
    // A browser that keeps nothing has sound.
    return null;
  }
}

let on = typeof window !== "undefined" && stored() !== "off";

export function switchSound(): void {
  on = !on;
  try {
    window.localStorage.setItem(KEPT, on ? "on" : "off");
  } catch {
    // Then it is so till the page is left.
  }
  listeners.forEach((listener) => listener());
  if (on) play("tick");
}

/** Whether there is sound. */
export const useSoundOn = (): boolean =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => on,
  );

export function play(heard: Heard): void {
  if (!on || typeof AudioContext === "undefined") return;
  context ??= new AudioContext();
  // Browsers keep a page silent until somebody has touched it.
  if (context.state === "suspended") void context.resume();
  let at = context.currentTime;
  for (const [hertz, seconds, loud] of NOTES[heard]) {
    const tone = context.createOscillator();
    const volume = context.createGain();
    tone.frequency.value = hertz;
    volume.gain.setValueAtTime(loud, at);
    volume.gain.exponentialRampToValueAtTime(0.001, at + seconds);
    tone.connect(volume).connect(context.destination);
    tone.start(at);
    tone.stop(at + seconds);
    at += seconds;
  }
}

/** Ticks in the last seconds of a wait; `left` is what is left of it [s], null while nothing waits. */
export function useTicks(left: number | null): void {
  const second = left === null ? null : Math.ceil(left);
  useEffect(() => {
    if (second !== null && second > 0 && second <= LAST_S) play("tick");
  }, [second]);
}

/** Sounds a change from one state of a clock to the next; the state it is met in makes no sound. */
export function useClockSound(running: boolean, nearest: number | null, over: boolean): void {
  const state = over ? "over" : running && nearest !== null ? `warn ${nearest}` : "";
  const before = useRef(state);
  useEffect(() => {
    if (state === before.current) return;
    before.current = state;
    if (state === "over") play("over");
    else if (state !== "") play("warn");
  }, [state]);
}

/** What a browser remembers for whoever works at it: how a page was left, what an instrument's last digit is. */
import { useState } from "react";

function stored<T>(key: string, initial: T): T {
  try {
    const kept = window.localStorage.getItem(key);
    return kept === null ? initial : (JSON.parse(kept) as T);
  } catch {
    return initial;
  }
}

/** A state that is there again when the page is opened the next time, under a key of its own. */
export function useRemembered<T>(key: string, initial: T): [T, (value: T) => void] {
  const [value, setValue] = useState(() => stored(key, initial));
  return [
    value,
    (next) => {
      setValue(next);
      try {
        window.localStorage.setItem(key, JSON.stringify(next));
      } catch {
        // A browser that keeps nothing remembers it till the page is left.
      }
    },
  ];
}

import { useEffect, useState } from "react";

/**
 * The value once it has stayed the same for a moment, so that typing and sliding do not ask at every step. The same is the
 * same object: one that is made at each drawing never settles.
 */
export function useSettled<T>(value: T, waitMs: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setSettled(value), waitMs);
    return () => window.clearTimeout(timer);
  }, [value, waitMs]);
  return settled;
}

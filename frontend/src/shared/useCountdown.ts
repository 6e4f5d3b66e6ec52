/** Seconds left of a wait that the server told, counted on by this page's own clock. */
import { useEffect, useState } from "react";

export function useCountdown(leftS: number | null, at: number): number | null {
  const [now, setNow] = useState(() => performance.now());
  useEffect(() => {
    if (leftS === null) return undefined;
    const timer = window.setInterval(() => setNow(performance.now()), 100);
    return () => window.clearInterval(timer);
  }, [leftS, at]);
  return leftS === null ? null : Math.max(0, leftS - Math.max(0, now - at) / 1000);
}

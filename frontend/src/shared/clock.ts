/** Clocks on the screen: they go on from what the server said, so a tablet's own clock may be wrong by hours. */
import { useEffect, useState } from "react";

/** Seconds passed since an answer with this value came; a new value begins again. Stands still while not active. */
export function useSince(value: unknown, active: boolean): number {
  const [passed, setPassed] = useState({ value, seconds: 0 });
  useEffect(() => {
    if (!active) return undefined;
    const came = Date.now();
    const timer = window.setInterval(
      () => setPassed({ value, seconds: Math.max(0, (Date.now() - came) / 1000) }),
      500,
    );
    return () => window.clearInterval(timer);
  }, [value, active]);
  return passed.value === value ? passed.seconds : 0;
}

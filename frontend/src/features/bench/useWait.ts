/** The agreed wait after a step or in a round: when it began, when it was over, and how long it really stayed up. */
import { useCallback, useState } from "react";
import type { TrialResult, TrialState } from "../../api/types";

/** When the present step or round began, and when its agreed wait was over; none while nothing waits. */
interface Wait {
  id: string;
  began: number;
  over: number | null;
}

export function useWait(state: TrialState | undefined, shown: TrialResult | undefined) {
  const [wait, setWait] = useState<Wait | null>(null);
  const onBegan = useCallback((id: string, began: number) => setWait({ id, began, over: null }), []);
  const onOver = useCallback(() => {
    setWait((old) => old && { ...old, over: performance.now() });
  }, []);
  const round = shown?.round_waiting ? (shown.rounds.at(-1)?.event_id ?? null) : null;
  const step = shown?.steps.filter((step) => step.state === "waiting").at(-1)?.event_id ?? null;
  const waiting = round ?? step;
  const holdS = round !== null ? (state?.round_plan?.hold_s ?? 0) : (state?.hold_s ?? 0);
  const current = wait !== null && wait.id === waiting ? wait : null;
  const since = (moment: number) => (performance.now() - moment) / 1000;
  return {
    waiting,
    holdS,
    isOver: waiting !== null && (holdS === 0 || (current?.over ?? null) !== null),
    onBegan,
    onOver,
    /** How long it has stayed up by now [s]: the record says so, not what was agreed. */
    stayedUp: () => holdS + (current?.over ? since(current.over) : 0),
    /** How far into the round that is under way it came [s]; null outside one. */
    lasted: () => (round !== null && current ? since(current.began) : null),
  };
}

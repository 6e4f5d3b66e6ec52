/**
 * A trial at this bench: the acknowledged state, what waits in the outbox, and the one way to add an event.
 *
 * `saving` says where things stand (see `TrialSender`); `aside` holds the entries that could not be written down.
 */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useSyncExternalStore } from "react";
import { keys } from "../../api/queries";
import type { KitItem, TrialState } from "../../api/types";
import { useRunState } from "../run";
import { benchId } from "./outbox";
import { project } from "./projection";
import { senderOf, trialsAt } from "./senders";
import { laterOf } from "./TrialSender";

export function useTrial(trialId: string, kit: readonly KitItem[]) {
  const client = useQueryClient();
  const { atStation } = useRunState();
  const sender = useMemo(() => senderOf(client, trialId, atStation), [client, trialId, atStation]);
  const key = keys.trial(trialId);
  const { pending, aside, beginning, saving, trouble, keeps } = useSyncExternalStore(
    sender.subscribe,
    sender.snapshot,
  );
  const trial = useQuery({
    queryKey: key,
    // Of one that began here the server knows nothing yet.
    enabled: beginning === null,
    queryFn: async ({ signal }) =>
      laterOf(client.getQueryData<TrialState>(key), await trialsAt(atStation).show(trialId, signal)),
    refetchOnWindowFocus: false,
  });

  useEffect(() => {
    const send = () => void sender.start();
    send();
    window.addEventListener("online", send);
    return () => window.removeEventListener("online", send);
  }, [sender]);

  const state = trial.data;
  const shown = useMemo(
    () => (state ? project(state.result, pending, kit, state.round_plan) : undefined),
    [state, pending, kit],
  );
  // One that has ended is nobody's: who puts it right has it from then on.
  const open = state?.result.outcome === "running";
  // One that the server does not know yet is here and nowhere else, whichever tab began it.
  const elsewhere = open && beginning === null && state.bench !== null && state.bench !== benchId();
  return {
    trial,
    state,
    shown,
    pending,
    aside,
    beginning,
    saving: elsewhere ? ("busy" as const) : saving,
    trouble,
    keeps,
    act: sender.act.bind(sender),
    again: sender.again.bind(sender),
    leaveOut: sender.leaveOut.bind(sender),
    takeOver: sender.takeOver.bind(sender),
    beginAgain: sender.beginAgain.bind(sender),
    leaveAllOut: sender.leaveAllOut.bind(sender),
    undoWaits: pending.some((event) => event.kind === "undo"),
  };
}

export type BenchTrial = ReturnType<typeof useTrial>;

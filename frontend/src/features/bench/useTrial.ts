/**
 * A trial at this bench: the acknowledged state, what waits in the outbox, and the one way to add an event.
 *
 * `saving` says where things stand: `saved`, `sending`, `offline` (kept here, sent again by itself), or `busy` (another
 * bench has the trial). `refused` is the last event that the rules did not take, with the reason.
 */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { ApiError, answered, api, isUnreachable } from "../../api/client";
import { keys } from "../../api/queries";
import type { EventKind, KitItem, TrialState } from "../../api/types";
import { benchId, forget, keep, newId, pendingOf, type PendingEvent } from "./outbox";
import { project } from "./projection";

/** An entry that the rules did not take: why, and what it was. */
export interface Refused {
  sentence: string;
  code: string;
  event: PendingEvent | null;
}

export type Saving = "saved" | "sending" | "offline" | "busy";

const RETRY_MS = 2000;

export function useTrial(trialId: string, kit: readonly KitItem[]) {
  const client = useQueryClient();
  const key = useMemo(() => keys.trial(trialId), [trialId]);
  const trial = useQuery({
    queryKey: key,
    queryFn: () => answered(api.GET("/api/trials/{id}", { params: { path: { id: trialId } } })),
    refetchOnWindowFocus: false,
  });
  const [pending, setPending] = useState<PendingEvent[]>([]);
  const [saving, setSaving] = useState<Saving>("saved");
  const [refused, setRefused] = useState<Refused | null>(null);
  const queue = useRef<PendingEvent[]>([]);
  const sending = useRef(false);
  const retry = useRef<number | undefined>(undefined);
  const flushRef = useRef<() => Promise<void>>(() => Promise.resolve());

  const show = useCallback((events: PendingEvent[]) => {
    queue.current = events;
    setPending(events);
  }, []);

  const flush = useCallback(async () => {
    if (sending.current) return;
    sending.current = true;
    window.clearTimeout(retry.current);
    try {
      while (queue.current.length > 0) {
        setSaving("sending");
        const batch = queue.current.slice(0, 200);
        const body = {
          bench: benchId(),
          // The server puts times right when this clock is off.
          sent_at: new Date().toISOString(),
          events: batch.map(({ id, sequence, kind, data, happened_at }) => ({
            id,
            sequence,
            kind,
            data: data ?? {},
            happened_at,
          })),
        };
        const answer = await answered(
          api.POST("/api/trials/{id}/events", { params: { path: { id: trialId } }, body }),
        );
        const { accepted, refused: refusal, state } = answer;
        const done = new Set(accepted);
        if (refusal) {
          done.add(refusal.event_id);
          const event = batch.find((one) => one.id === refusal.event_id);
          setRefused({ sentence: refusal.sentence, code: refusal.code, event: event ?? null });
        }
        await forget([...done]);
        let left = queue.current.filter((event) => !done.has(event.id));
        if (refusal && left.length > 0) {
          // What was done after the refused entry moves up by one place and is sent again.
          left = left.map((event, i) => ({ ...event, sequence: state.result.next_sequence + i }));
          await keep(left);
        }
        client.setQueryData<TrialState>(key, state);
        show(left);
      }
      setSaving("saved");
    } catch (error) {
      if (error instanceof ApiError && error.code === "bench_busy") {
        setSaving("busy");
      } else if (isUnreachable(error)) {
        setSaving("offline");
        retry.current = window.setTimeout(() => void flushRef.current(), RETRY_MS);
      } else {
        setSaving("offline");
        const sentence = error instanceof Error ? error.message : "Not taken.";
        setRefused({ sentence, code: "", event: null });
        retry.current = window.setTimeout(() => void flushRef.current(), RETRY_MS * 5);
      }
    } finally {
      sending.current = false;
    }
  }, [client, key, show, trialId]);
  useEffect(() => {
    flushRef.current = flush;
  }, [flush]);

  // What an earlier visit left unsent goes first.
  useEffect(() => {
    let current = true;
    void pendingOf(trialId).then((events) => {
      if (!current || events.length === 0) return;
      show(events);
      void flushRef.current();
    });
    const online = () => void flushRef.current();
    window.addEventListener("online", online);
    return () => {
      current = false;
      window.removeEventListener("online", online);
      window.clearTimeout(retry.current);
    };
  }, [show, trialId]);

  const state = trial.data;
  const shown = useMemo(
    () => (state ? project(state.result, pending, kit, state.round_plan) : undefined),
    [state, pending, kit],
  );

  const act = useCallback(
    (kind: EventKind, data: Record<string, unknown> = {}) => {
      const known = client.getQueryData<TrialState>(key);
      if (!known) return;
      const last = queue.current[queue.current.length - 1];
      const event: PendingEvent = {
        id: newId(),
        trial: trialId,
        sequence: last ? last.sequence + 1 : known.result.next_sequence,
        kind,
        data,
        happened_at: new Date().toISOString(),
      };
      setRefused(null);
      show([...queue.current, event]);
      void keep([event]).then(() => flushRef.current());
    },
    [client, key, show, trialId],
  );

  const takeOver = useCallback(async () => {
    const fresh = await answered(
      api.POST("/api/trials/{id}/take-over", {
        params: { path: { id: trialId } },
        body: { bench: benchId() },
      }),
    );
    client.setQueryData<TrialState>(key, fresh);
    // Places in the ledger may have been taken meanwhile by the other bench.
    const moved = queue.current.map((event, i) => ({ ...event, sequence: fresh.result.next_sequence + i }));
    await keep(moved);
    show(moved);
    setSaving("saved");
    void flushRef.current();
  }, [client, key, show, trialId]);

  const elsewhere = state !== undefined && state.bench !== null && state.bench !== benchId();
  const undoWaits = pending.some((event) => event.kind === "undo");
  return {
    trial,
    state,
    shown,
    pending,
    saving: elsewhere ? ("busy" as const) : saving,
    refused,
    act,
    takeOver,
    undoWaits,
  };
}

export type BenchTrial = ReturnType<typeof useTrial>;

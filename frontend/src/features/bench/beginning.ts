/**
 * A trial that begins while the server cannot be asked: what it would begin with was fetched before. The sender tells the
 * server as soon as that can be, before any entry.
 */
import { useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { ApiError, answered, api, isUnreachable, PATIENCE_MS } from "../../api/client";
import { keys } from "../../api/queries";
import type { Design, RunState, TrialState } from "../../api/types";
import { keptCheckIns } from "../checkin";
import { benchId } from "./outbox";
import { senderOf } from "./senders";

const FRESH_MS = 60_000;

/** What each design's next trial would begin with, by the design's id; asked for again when a design has moved on. */
export function useAhead(state: RunState): ReadonlyMap<number, TrialState> {
  const client = useQueryClient();
  const id = state.run.id;
  const queryKey = keys.ahead(id);
  const ahead = useQuery({
    queryKey,
    queryFn: () => answered(api.GET("/api/runs/{id}/ahead", { params: { path: { id } } })),
    staleTime: FRESH_MS,
  });
  const moved = state.designs
    .map((design) => `${design.id} ${design.checked_in} ${design.trials.length} ${design.state}`)
    .join();
  useEffect(() => {
    void client.invalidateQueries({ queryKey: keys.ahead(id) });
  }, [client, id, moved]);
  return new Map(ahead.data?.map((next) => [next.design, next]));
}

interface Wanted {
  trial: string;
  design: Design;
  arrangement: string;
  wetReason: string;
  rehearsal: boolean;
  /** What was fetched of it before, if anything was. */
  ahead: TrialState | undefined;
}

/** Begins a trial at the server; without one it begins here, if what it begins with was fetched before. */
export async function begin(client: QueryClient, run: number, wanted: Wanted): Promise<TrialState> {
  const { trial, design, arrangement, wetReason, rehearsal, ahead } = wanted;
  try {
    // Where its check-in is still to be sent, this comes after it.
    if (!rehearsal) await checkInFirst(client, design.id);
    return await answered(
      api.POST("/api/designs/{id}/trials", {
        params: { path: { id: design.id } },
        body: {
          id: trial,
          bench: benchId(),
          wet_reason: wetReason,
          arrangement,
          rehearsal,
          began_ago_s: 0,
          confirmed: false,
        },
        signal: AbortSignal.timeout(PATIENCE_MS),
      }),
    );
  } catch (error) {
    const could = ahead?.number === design.trials.length + 1 && isUnreachable(error) && !rehearsal;
    if (!could) throw error;
    return beginHere(client, run, { ...wanted, ahead });
  }
}

async function checkInFirst(client: QueryClient, design: number): Promise<void> {
  const kept = keptCheckIns(client);
  if (await kept.send(design)) return;
  if (kept.of(design)?.refused)
    throw new ApiError(409, { sentence: "Its check-in still waits: look at its check-in page." });
  throw new Error("nobody to ask");
}

/** It begins here: the bench has it at once, and the run shows it. */
function beginHere(client: QueryClient, run: number, begun: Wanted & { ahead: TrialState }): TrialState {
  const { trial, design, arrangement, wetReason, ahead } = begun;
  const began_at = new Date().toISOString();
  const state: TrialState = { ...ahead, id: trial, bench: benchId(), arrangement };
  client.setQueryData<TrialState>(keys.trial(trial), state);
  client.setQueryData<RunState>(
    keys.run(run),
    (old) =>
      old && {
        ...old,
        designs: old.designs.map((one) => (one.id === design.id ? withTrial(one, state, began_at) : one)),
      },
  );
  senderOf(client, trial).begin({
    trial,
    design: design.id,
    number: ahead.number,
    arrangement,
    wet_reason: wetReason,
    bench: benchId(),
    began_at,
    confirmed: false,
    refused: null,
  });
  return state;
}

/** A design with a trial that is under way; what it comes to, the server says. */
function withTrial(design: Design, state: TrialState, began_at: string): Design {
  const card: Design["trials"][number] = {
    id: state.id,
    number: state.number,
    started_at: began_at,
    arrangement: state.arrangement,
    result: state.result,
    counts: false,
    came_to: "",
    line: "under way",
    headline: "",
    how: "",
    by_team: false,
    unconfirmed: false,
    confirmed_by: "",
    authors: [],
    latest_at: null,
  };
  return { ...design, state: "on_bench", trials: [...design.trials, card] };
}

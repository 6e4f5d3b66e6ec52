/** The senders of this page: one for each trial, whichever screen is open, until everything is written down. */
import type { QueryClient } from "@tanstack/react-query";
import { ApiError, answered, api } from "../../api/client";
import { keys } from "../../api/queries";
import type { TrialState } from "../../api/types";
import { newId } from "../../shared/newId";
import { KEEP_MS } from "../../api/soon";
import { waitsSince } from "../../api/unsent";
import { keptCheckIns } from "../checkin";
import { benchId, Outbox } from "./outbox";
import { laterOf, TrialSender, type Ports } from "./TrialSender";

const RETRY_MS = 2000;
const ANSWER_MS = 15_000;

export const outbox = new Outbox();
const made = new WeakMap<QueryClient, Map<string, TrialSender>>();

/** Where the entries of trials go. */
export type TrialsAt = Pick<Ports, "append" | "show" | "takeOver">;

/** A bench of whoever is signed in. */
const ofTeacher: TrialsAt = {
  show: (id, signal) => answered(api.GET("/api/trials/{id}", { params: { path: { id } }, signal })),
  append: (id, body, signal) =>
    answered(api.POST("/api/trials/{id}/events", { params: { path: { id } }, body, signal })),
  takeOver: (id, bench, signal) =>
    answered(api.POST("/api/trials/{id}/take-over", { params: { path: { id } }, body: { bench }, signal })),
};

/** A team's own tablet. */
const ofTeam: TrialsAt = {
  show: (id, signal) => answered(api.GET("/api/team/trials/{id}", { params: { path: { id } }, signal })),
  append: (id, body, signal) =>
    answered(api.POST("/api/team/trials/{id}/events", { params: { path: { id } }, body, signal })),
  takeOver: (id, bench, signal) =>
    answered(
      api.POST("/api/team/trials/{id}/take-over", { params: { path: { id } }, body: { bench }, signal }),
    ),
};

export const trialsAt = (station: boolean): TrialsAt => (station ? ofTeam : ofTeacher);

function portsOf(client: QueryClient, station: boolean): Ports {
  return {
    ...trialsAt(station),
    begin: async (begun, signal) => {
      // Its check-in comes first; what is asked about that is asked there.
      if (!(await keptCheckIns(client).send(begun.design)))
        throw new ApiError(503, { sentence: "Its check-in still waits: look at its check-in page." });
      return answered(
        api.POST("/api/designs/{id}/trials", {
          params: { path: { id: begun.design } },
          body: {
            id: begun.trial,
            bench: benchId(),
            number: begun.number,
            arrangement: begun.arrangement,
            wet_reason: begun.wet_reason,
            confirmed: begun.confirmed,
            rehearsal: false,
            began_ago_s: Math.max(0, (Date.now() - Date.parse(begun.began_at)) / 1000),
          },
          signal,
        }),
      );
    },
    store: outbox,
    known: (id) => client.getQueryData<TrialState>(keys.trial(id)),
    learn: (id, state) => {
      // What is being fetched just now is older than this.
      void client.cancelQueries({ queryKey: keys.trial(id) });
      client.setQueryData<TrialState>(keys.trial(id), (old) => laterOf(old, state));
    },
    bench: benchId,
    newId,
    retryMs: RETRY_MS,
    answerMs: ANSWER_MS,
    keepMs: KEEP_MS,
  };
}

/** The one sender of a trial; at a `station` a team sends. */
export function senderOf(client: QueryClient, trial: string, station = false): TrialSender {
  const senders = made.get(client) ?? new Map<string, TrialSender>();
  made.set(client, senders);
  const known = senders.get(trial);
  if (known) return known;
  const sender = new TrialSender(trial, portsOf(client, station));
  senders.set(trial, sender);
  sender.subscribe(() => {
    const oldest = sender.snapshot().pending[0];
    waitsSince(trial, oldest ? Date.parse(oldest.happened_at) : null);
  });
  return sender;
}

/** Send whatever was left unsent, of any trial; says of which trials something is kept. */
export async function sendWhatIsKept(client: QueryClient): Promise<string[]> {
  const trials = await outbox.trials();
  trials.forEach((trial) => void senderOf(client, trial).start());
  return trials;
}

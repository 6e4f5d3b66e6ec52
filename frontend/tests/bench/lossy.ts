/** A bench, its real outbox and the real server, with a line between them that loses, doubles and delays. */
import { ApiError } from "../../src/api/client";
import type { Appended, EventKind, TrialState } from "../../src/api/types";
import { Outbox, type AsideEvent, type PendingEvent } from "../../src/features/bench/outbox";
import { laterOf, TrialSender, type Body, type Ports } from "../../src/features/bench/TrialSender";
import { newId } from "../../src/shared/newId";
import { asTeacher, good } from "../server";

/** What becomes of one request. */
export type Fate =
  | "through" // asked and answered
  | "request_lost" // the server never hears of it
  | "answer_lost" // the server has done it, and nobody is told
  | "doubled" // it reaches the server twice
  | "late" // the answer comes after other things
  | "never" // no answer, ever
  | "overtaken" // given up, sent again, and only then does the first one arrive
  | { status: number; code?: string; sentence?: string }; // a refusal, such as of the machinery around the server

export interface Line {
  fate: (body: Body | null) => Fate;
  /** What becomes of the word that a trial began here. */
  begun?: () => Fate;
}

/** How long a tab waits for an answer where some never come. */
export const GIVE_UP_MS = 250;

/** How long ago a trial began that the server hears of only now. */
const BEGAN_AGO_MS = 120_000;

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

async function asked<T>(path: string, body: unknown, fate: Fate, session?: string): Promise<T> {
  const call = async (): Promise<T> => {
    const answer = await asTeacher(
      path,
      { method: body === null ? "GET" : "POST", body: body === null ? null : JSON.stringify(body) },
      session,
    );
    const given: unknown = await answer.json().catch(() => null);
    if (!answer.ok) throw new ApiError(answer.status, (given ?? {}) as object);
    return given as T;
  };
  if (typeof fate === "object")
    throw new ApiError(fate.status, { code: "made_up", sentence: "A made-up refusal.", ...fate });
  switch (fate) {
    case "request_lost":
      throw new TypeError("network error");
    case "answer_lost":
      await call();
      throw new TypeError("network error");
    case "doubled":
      await call();
      return call();
    case "late": {
      const response = await call();
      await pause(15);
      return response;
    }
    case "never":
      return new Promise<T>(() => undefined);
    case "overtaken":
      setTimeout(() => void call().catch(() => undefined), GIVE_UP_MS + 30);
      return new Promise<T>(() => undefined);
    default:
      return call();
  }
}

/** The state that a page knows, as its query cache keeps it. */
export class Memory {
  state: TrialState | undefined;

  learn(state: TrialState): void {
    this.state = laterOf(this.state, state);
  }
}

let databases = 0;
export const freshOutbox = (): Outbox => new Outbox(`test ${(databases += 1)}`);

/** A tab at a bench, on a trial that exists. */
export class Tab {
  readonly memory = new Memory();
  readonly sender: TrialSender;
  /** Every entry that was ever set aside here, and why. */
  readonly named = new Map<string, AsideEvent>();

  constructor(
    readonly trial: string,
    readonly bench: string,
    readonly store: Ports["store"],
    line: Line,
    times: { retryMs?: number; answerMs?: number; keepMs?: number } = {},
  ) {
    this.sender = new TrialSender(trial, {
      begin: (beginning) =>
        asked<TrialState>(
          `/api/designs/${beginning.design}/trials`,
          {
            id: beginning.trial,
            bench: beginning.bench,
            number: beginning.number,
            arrangement: beginning.arrangement,
            began_ago_s: (Date.now() - Date.parse(beginning.began_at)) / 1000,
            confirmed: beginning.confirmed,
          },
          (line.begun ?? (() => "through"))(),
        ),
      append: (id, body) => asked<Appended>(`/api/trials/${id}/events`, body, line.fate(body)),
      show: (id) => asked<TrialState>(`/api/trials/${id}`, null, line.fate(null)),
      takeOver: (id, who) => asked<TrialState>(`/api/trials/${id}/take-over`, { bench: who }, "through"),
      store,
      known: () => this.memory.state,
      learn: (_, state) => this.memory.learn(state),
      bench: () => bench,
      newId,
      retryMs: times.retryMs ?? 10,
      // A server with much to do answers late; where answers fail to come, a test says how long it waits.
      answerMs: times.answerMs ?? 10_000,
      keepMs: times.keepMs ?? 10_000,
    });
    this.sender.subscribe(() =>
      this.sender.snapshot().aside.forEach((event) => this.named.set(event.id, event)),
    );
  }

  async open(): Promise<this> {
    this.memory.learn(await good<TrialState>(`/api/trials/${this.trial}`));
    await this.sender.start();
    return this;
  }

  /** A trial begins here, though the server cannot be asked; what it begins with was fetched before. */
  async begin(design: number, ahead: TrialState): Promise<void> {
    this.memory.learn({ ...ahead, id: this.trial, bench: this.bench });
    this.sender.begin({
      trial: this.trial,
      design,
      number: ahead.number,
      arrangement: "",
      wet_reason: "",
      bench: this.bench,
      began_at: new Date(Date.now() - BEGAN_AGO_MS).toISOString(),
      confirmed: false,
      refused: null,
    });
    await this.sender.start();
  }

  /** Everything is written down, or it is plain why not. */
  async settled(ms = 20_000): Promise<void> {
    const until = Date.now() + ms;
    const waits = () => {
      const { pending, beginning, saving } = this.sender.snapshot();
      return pending.length > 0 || beginning !== null || saving === "sending";
    };
    while (waits()) {
      if (["busy", "not_begun"].includes(this.sender.snapshot().saving)) return;
      if (Date.now() > until) throw new Error(`still waiting: ${JSON.stringify(this.sender.snapshot())}`);
      await pause(3);
    }
  }
}

/** A trial of a design begins; whichever one is open is ended first. */
export async function beginTrial(design: number, bench: string): Promise<string> {
  const id = newId();
  await good(`/api/designs/${design}/trials`, "POST", { id, bench });
  begun.add(id);
  return id;
}

const begun = new Set<string>();

/** Ends every open trial of a run. */
export async function endTrialsOf(run: number): Promise<void> {
  const { designs } = await good<{
    designs: { trials: { id: string; result: { outcome: string } }[] }[];
  }>(`/api/runs/${run}`);
  const trials = designs.flatMap((design) => design.trials);
  for (const trial of trials) if (trial.result.outcome === "running") await endTrial(trial.id);
}

/** Ends every trial that a test left open, so that the next can begin one. */
export async function endTrials(): Promise<void> {
  for (const trial of begun) await endTrial(trial);
}

/** Ends a trial for good, at whichever bench it is. */
async function endTrial(trial: string): Promise<void> {
  begun.delete(trial);
  const bench = newId();
  const { result } = await good<TrialState>(`/api/trials/${trial}/take-over`, "POST", { bench });
  if (result.outcome !== "running") return;
  await good(`/api/trials/${trial}/events`, "POST", {
    bench,
    events: [
      {
        id: newId(),
        sequence: result.next_sequence,
        kind: "void",
        data: { reason: "knocked" },
        happened_at: new Date().toISOString(),
      },
    ],
  });
}

export interface Written {
  id: string;
  sequence: number;
  kind: string;
  data: Record<string, unknown>;
}

/** The ledgers of a run as they stand in the database, by trial. */
export async function ledgers(run: number): Promise<Map<string, Written[]>> {
  const file = await good<{
    designs: { trials: { id: string; events: Written[] }[] }[];
  }>(`/api/runs/${run}/run.json`);
  const trials = file.designs.flatMap((design) => design.trials);
  return new Map(
    trials.map((trial) => [trial.id, [...trial.events].sort((a, b) => a.sequence - b.sequence)]),
  );
}

/** A store that keeps nothing and says so. */
export const brokenStore = (how: "refuses" | "hangs"): Ports["store"] => {
  const answer = (): Promise<never> =>
    how === "refuses" ? Promise.reject(new Error("quota")) : new Promise<never>(() => undefined);
  return { of: answer, change: answer };
};

export type Entry = [EventKind, Record<string, unknown>];
export const place = (item: string, count = 1): Entry => ["place", { item, count }];
export const held: Entry = ["settle", { waited_s: 1 }];
export const STORY: Entry[] = [
  place("platform"),
  held,
  place("nut", 5),
  held,
  ["observe", { sign: "crack" }],
  ["measure", { key: "sag", text: "4 mm", zero: "", resolution: "1 mm" }],
  place("nut", 99), // more than there are: refused
  place("nut", 2),
  held,
  place("nut"),
  ["fail", { mode: "crimp" }],
];

/** Does a story at a tab; says which entries were made, by their place in it. */
export function tell(tab: Tab, story: readonly Entry[]): PendingEvent[] {
  return story.map(([kind, data]) => {
    const before = new Set(tab.sender.snapshot().pending.map((event) => event.id));
    tab.sender.act(kind, data);
    const made = tab.sender.snapshot().pending.find((event) => !before.has(event.id));
    if (!made) throw new Error(`${kind} was not taken up`);
    return made;
  });
}

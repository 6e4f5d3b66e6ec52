/**
 * The way of one trial's entries from the bench to the ledger, whatever the network does. Knows no React.
 *
 * Entries are kept, sent in order, and forgotten when they are acknowledged. An answer may be lost, late, doubled or
 * never come: what is sent again has the same id, and the server knows it. Numbers say where in the ledger an entry was
 * made; they are never moved past what another bench wrote meanwhile. An entry that cannot be written down is set
 * aside with its reason, and the rest goes on.
 */
import { ApiError, isSignedOut } from "../../api/client";
import type { Appended, EventKind, TrialState } from "../../api/types";
import { soon } from "../../api/soon";
import type { AsideEvent, AsideKind, Beginning, Change, Kept, PendingEvent } from "./outbox";

/**
 * Where things stand: `saved`; `sending`; `offline`, kept here and sent again by itself; `signed_out`, kept here until
 * somebody signs in; `out`, kept here while whoever is signed in has no part in it any more; `busy`, another bench has
 * the trial; `not_begun`, the server does not take the trial itself, and the teacher is asked what becomes of it.
 */
export type Saving = "saved" | "sending" | "offline" | "signed_out" | "out" | "busy" | "not_begun";

export interface Sent {
  readonly pending: readonly PendingEvent[];
  readonly aside: readonly AsideEvent[];
  /** The trial itself, while the server does not know it. */
  readonly beginning: Beginning | null;
  readonly saving: Saving;
  /** What the server said last, where it answers but cannot do it; nothing where `saving` says it all. */
  readonly trouble: string;
  /** Whether this browser keeps what waits; where it does not, the page must stay open. */
  readonly keeps: boolean;
}

export interface Body {
  bench: string;
  sent_at: string;
  only_known: boolean;
  events: {
    id: string;
    sequence: number;
    kind: EventKind;
    data: Record<string, unknown>;
    happened_at: string;
  }[];
}

/** What a sender needs of the world. */
export interface Ports {
  begin: (beginning: Beginning, signal: AbortSignal) => Promise<TrialState>;
  append: (trial: string, body: Body, signal: AbortSignal) => Promise<Appended>;
  show: (trial: string, signal: AbortSignal) => Promise<TrialState>;
  takeOver: (trial: string, bench: string, signal: AbortSignal) => Promise<TrialState>;
  store: { of: (trial: string) => Promise<Kept>; change: (change: Change) => Promise<void> };
  /** The state that the server acknowledged last, as far as this page knows it. */
  known: (trial: string) => TrialState | undefined;
  learn: (trial: string, state: TrialState) => void;
  bench: () => string;
  newId: () => string;
  retryMs: number;
  /** How long an answer is waited for before the same is sent again. */
  answerMs: number;
  /** How long the browser's own database is waited for: an entry is sent even if it cannot be kept. */
  keepMs: number;
}

const AT_ONCE = 200;
/** How often an entry that the server stumbles over is tried, before the server is asked whether it is well. */
const TRIES = 3;

/** What an error means for what was sent. */
function judged(error: unknown): "busy" | "away" | "signed_out" | "out" | "bad" {
  if (!(error instanceof ApiError)) return "away";
  if (error.code === "bench_busy") return "busy";
  if (isSignedOut(error)) return "signed_out";
  if (error.status === 403) return "out";
  if ([408, 425, 429, 502, 503, 504].includes(error.status)) return "away";
  return "bad";
}

/** Numbers without gaps from a first one on. */
const numbered = <E extends PendingEvent>(events: readonly E[], first: number): E[] =>
  events.map((event, i) => (event.sequence === first + i ? event : { ...event, sequence: first + i }));

export class TrialSender {
  private sent: Sent = {
    pending: [],
    aside: [],
    beginning: null,
    saving: "saved",
    trouble: "",
    keeps: true,
  };
  private readonly listeners = new Set<() => void>();
  private running = false;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private loaded: Promise<void> | null = null;
  private width = AT_ONCE;
  private tries = 0;
  // Whether the server was found well since it stumbled over the first entry that waits.
  private well = false;
  // Whether some of what waits was entered while another bench had the trial: it is asked about before anything is sent.
  private doubtful = false;
  // Whose the trial was before it was taken over here; null was nobody's.
  private takenFrom: string | null = null;
  private closed = false;

  constructor(
    readonly trial: string,
    private readonly ports: Ports,
  ) {}

  readonly snapshot = (): Sent => this.sent;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Send no more; what waits is kept. For a page that goes away. */
  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
  }

  /** Fetch what an earlier visit kept, once, and send it. */
  start(): Promise<void> {
    return this.load().then(() => this.flush());
  }

  private load(): Promise<void> {
    return (this.loaded ??= this.fetchKept());
  }

  private async fetchKept(): Promise<void> {
    const asked = this.ports.store.of(this.trial);
    const kept = await soon<Kept | null>(asked, null, this.ports.keepMs);
    if (kept) return this.goOnFrom(kept);
    // Work does not wait for it. Should the browser's database answer after all, what it kept is sent then.
    void asked.then(
      (late) => {
        this.goOnFrom(late);
        return this.flush();
      },
      () => undefined,
    );
  }

  /** What an earlier visit kept comes before what was done since the page opened. */
  private goOnFrom(kept: Kept): void {
    const here = new Set(this.sent.pending.map((event) => event.id));
    const earlier = kept.events.filter((event) => !here.has(event.id));
    const last = earlier.at(-1);
    const since = last ? numbered(this.sent.pending, last.sequence + 1) : this.sent.pending;
    this.doubt(earlier);
    this.tell({
      pending: [...earlier, ...since],
      aside: [...kept.aside, ...this.sent.aside],
      beginning: this.sent.beginning ?? kept.beginning ?? null,
    });
  }

  /** Made by the bench that had the trial until it came here: nobody can have done anything in between. */
  private doubt(events: readonly PendingEvent[]): void {
    this.doubtful ||= this.takenFrom !== null && events.some((event) => event.bench !== this.takenFrom);
  }

  /** The trial begins here, though the server cannot be asked: it is told before any entry. */
  begin(beginning: Beginning): void {
    this.tell({ beginning, saving: "offline" });
    void this.keep({ begin: beginning }).then(() => this.start());
  }

  /** It is one more trial of its design, or is to be tried once more. */
  beginAgain(confirmed: boolean): void {
    const asked = this.sent.beginning;
    if (!asked) return;
    this.begin({ ...asked, confirmed: asked.confirmed || confirmed, refused: null });
  }

  /** Leave the trial itself out, with all that was entered in it. */
  leaveAllOut(): Promise<void> {
    const ids = (entries: readonly PendingEvent[]) => entries.map((entry) => entry.id);
    const change = { drop: ids(this.sent.pending), settle: ids(this.sent.aside), begun: this.trial };
    this.tell({ pending: [], aside: [], beginning: null, saving: "saved", trouble: "" });
    return this.keep(change);
  }

  /** Write an entry down; nothing happens before the trial is known. */
  act(kind: EventKind, data: Record<string, unknown> = {}): void {
    const seen = this.sent.aside.filter((event) => event.told).map((event) => event.id);
    this.add(this.ports.newId(), kind, data, seen);
  }

  /** Write down after all what was set aside, as the latest entry; `more` says what is now confirmed. */
  again(id: string, more: Record<string, unknown> = {}): void {
    const event = this.sent.aside.find((entry) => entry.id === id);
    if (!event) return;
    // With other contents it is another entry.
    const same = Object.keys(more).length === 0;
    this.add(same ? id : this.ports.newId(), event.kind, { ...event.data, ...more }, [id]);
  }

  /** Leave out for good what was set aside. */
  leaveOut(id: string): void {
    this.tell({ aside: this.sent.aside.filter((entry) => entry.id !== id) });
    void this.keep({ settle: [id] });
  }

  private add(id: string, kind: EventKind, data: Record<string, unknown>, settle: readonly string[]): void {
    const known = this.ports.known(this.trial);
    if (!known) return;
    const last = this.sent.pending.at(-1);
    const made: PendingEvent = {
      id,
      trial: this.trial,
      sequence: last ? last.sequence + 1 : known.result.next_sequence,
      kind,
      data,
      happened_at: new Date().toISOString(),
      bench: this.ports.bench(),
    };
    this.tell({
      pending: [...this.sent.pending, made],
      aside: this.sent.aside.filter((entry) => !settle.includes(entry.id)),
      // It is not saved yet, though nothing has been sent.
      saving: this.sent.saving === "saved" ? "sending" : this.sent.saving,
    });
    void this.keep({ put: [made], settle }).then(() => this.start());
  }

  /** Go on with the trial at this bench. What was entered here while another bench had it is asked about first. */
  async takeOver(): Promise<void> {
    await this.load();
    const holder = (await this.within((signal) => this.ports.show(this.trial, signal))).bench;
    // Noted before the request: its answer may be lost, and the trial is here all the same.
    this.takenFrom = holder;
    this.doubt(this.sent.pending);
    const state = await this.within((signal) => this.ports.takeOver(this.trial, this.ports.bench(), signal));
    this.ports.learn(this.trial, state);
    await this.flush();
  }

  /** Send what waits, in order, until nothing is left or nothing can be done just now. */
  async flush(): Promise<void> {
    if (this.running || this.closed) return;
    this.running = true;
    clearTimeout(this.timer);
    try {
      while (this.waiting() && (await this.next()));
      if (!this.waiting()) {
        this.doubtful = false;
        this.tell({ saving: "saved", trouble: "" });
      }
    } catch {
      // An answer that makes no sense is no answer.
      this.wait("offline", "");
    } finally {
      this.running = false;
    }
  }

  private waiting(): boolean {
    return this.sent.pending.length > 0 || this.sent.beginning !== null;
  }

  private next(): Promise<boolean> {
    if (this.sent.beginning) return this.beginThere(this.sent.beginning);
    return this.doubtful ? this.ask() : this.step();
  }

  /** The trial itself, before any of its entries. What the server does not take, the teacher is asked about. */
  private async beginThere(beginning: Beginning): Promise<boolean> {
    if (beginning.refused) {
      this.tell({ saving: "not_begun" });
      return false;
    }
    this.tell({ saving: "sending" });
    try {
      const state = await this.within((signal) => this.ports.begin(beginning, signal));
      this.ports.learn(this.trial, state);
    } catch (error) {
      const why = this.held(error);
      if (why !== null) return why;
      const { message, confirm } = error as ApiError;
      if ((error as ApiError).status >= 500) return this.wait("offline", message);
      const refused = { ...beginning, refused: { sentence: message, confirm } };
      this.tell({ beginning: refused, saving: "not_begun" });
      await this.keep({ begin: refused });
      return false;
    }
    this.tell({ beginning: null });
    await this.keep({ begun: this.trial });
    return true;
  }

  /** Find out which of the waiting entries are in the ledger already, and set the others aside to be asked about. */
  private async ask(): Promise<boolean> {
    this.tell({ saving: "sending" });
    const asked = this.sent.pending;
    this.doubtful = false;
    let done = new Set<string>();
    try {
      const answer = await this.post(asked, true);
      this.ports.learn(this.trial, answer.state);
      done = new Set(answer.accepted);
    } catch (error) {
      const why = this.held(error);
      if (why !== null) {
        this.doubtful = true;
        return why;
      }
      // One of them cannot even be asked about. Each is set aside: added again, the server knows it if it has it.
    }
    await this.part(
      [...done],
      asked.filter((event) => !done.has(event.id)).map((event) => stale(event)),
    );
    return true;
  }

  /** One request; says whether to go on at once. */
  private async step(): Promise<boolean> {
    this.tell({ saving: "sending" });
    const known = this.ports.known(this.trial);
    const first = this.sent.pending[0]?.sequence ?? 1;
    // Before a gap nothing can have been written, so entries close up to what is there.
    const from = known ? Math.min(first, known.result.next_sequence) : first;
    this.tell({ pending: numbered(this.sent.pending, from) });
    const batch = this.sent.pending.slice(0, this.width);
    let answer: Appended;
    try {
      answer = await this.post(batch, false);
    } catch (error) {
      return this.stumbled(batch, error);
    }
    if (this.closed) return false;
    this.tries = 0;
    this.well = false;
    this.ports.learn(this.trial, answer.state);
    const done = new Set(answer.accepted);
    const { refused } = answer;
    const event = refused && batch.find((entry) => entry.id === refused.event_id);
    if (!event && !batch.some((entry) => done.has(entry.id))) return this.wait("offline", "");
    if (!refused || !event) {
      await this.part([...done], []);
      this.width = Math.min(AT_ONCE, this.width * 2);
      return true;
    }
    if (refused.code === "sequence_taken") {
      // Another bench wrote here meanwhile: whoever pressed these saw a trial that is no longer so.
      const rest = this.sent.pending.filter((entry) => !done.has(entry.id));
      await this.part(
        [...done],
        rest.map((entry) => stale(entry)),
      );
      return true;
    }
    const alone = this.sent.pending.length === 1;
    await this.part(
      [...done],
      [aside(event, "refused", refused.code, refused.sentence, refused.confirm, alone)],
      answer.state.result.next_sequence,
    );
    return true;
  }

  /** No acknowledgement came: why, and what is done about it. */
  private async stumbled(batch: readonly PendingEvent[], error: unknown): Promise<boolean> {
    const why = this.held(error);
    if (why !== null) return why;
    const sentence = error instanceof ApiError ? error.message : "";
    const head = batch[0];
    if (!(error instanceof ApiError) || !head) return this.wait("offline", sentence);
    if (batch.length > 1) {
      // One of them is at fault; sent one by one, the others get through.
      this.width = 1;
      return true;
    }
    this.tries += 1;
    if (error.status >= 500 && this.tries < TRIES) return this.wait("offline", sentence);
    try {
      const state = await this.within((signal) => this.ports.show(this.trial, signal));
      this.ports.learn(this.trial, state);
    } catch {
      // The server is not well, or the trial is not to be had: nothing is wrong with the entry.
      return this.wait("offline", sentence);
    }
    if (error.status >= 500 && !this.well) {
      // It may have come back just now. Then the next try tells.
      this.well = true;
      return true;
    }
    this.tries = 0;
    this.well = false;
    await this.part([], [aside(head, "broken", error.code, sentence, error.confirm, false)], head.sequence);
    return true;
  }

  /** What keeps everything back, whatever was sent: false, and told; null if it lies at what was sent. */
  private held(error: unknown): false | null {
    const meaning = judged(error);
    const sentence = error instanceof ApiError ? error.message : "";
    if (meaning === "away") return this.wait("offline", sentence);
    if (meaning === "signed_out") return this.wait("signed_out", "");
    if (meaning === "out") return this.wait("out", sentence);
    if (meaning === "bad") return null;
    this.tell({ saving: "busy" });
    return false;
  }

  private wait(saving: Saving, trouble: string): false {
    this.tell({ saving, trouble });
    if (!this.closed) this.timer = setTimeout(() => void this.flush(), this.ports.retryMs);
    return false;
  }

  private post(events: readonly PendingEvent[], onlyKnown: boolean): Promise<Appended> {
    const body: Body = {
      bench: this.ports.bench(),
      // The server puts times right when this clock is off.
      sent_at: new Date().toISOString(),
      only_known: onlyKnown,
      events: events.map(({ id, sequence, kind, data, happened_at }) => ({
        id,
        sequence,
        kind,
        data: data ?? {},
        happened_at,
      })),
    };
    return this.within((signal) => this.ports.append(this.trial, body, signal));
  }

  /** An answer within its time, or none. */
  private async within<T>(call: (signal: AbortSignal) => Promise<T>): Promise<T> {
    const stop = new AbortController();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const late = new Promise<never>((_, reject) => {
      timer = setTimeout(() => {
        reject(new Error("no answer in time"));
        stop.abort();
      }, this.ports.answerMs);
    });
    try {
      return await Promise.race([call(stop.signal), late]);
    } finally {
      clearTimeout(timer);
    }
  }

  /** Forget what is written down and set aside what is not; the rest moves up to `from`, where that is given. */
  private async part(done: readonly string[], apart: readonly AsideEvent[], from?: number): Promise<void> {
    const gone = new Set([...done, ...apart.map((event) => event.id)]);
    const before = this.sent.pending.filter((event) => !gone.has(event.id));
    const left = from === undefined ? before : numbered(before, from);
    this.tell({
      pending: left,
      aside: [...this.sent.aside.filter((event) => !gone.has(event.id)), ...apart],
    });
    // All in one: a page that goes away in the middle leaves no gap behind.
    await this.keep({
      drop: [...gone],
      aside: apart,
      put: left.filter((event, i) => event !== before[i]),
    });
  }

  private async keep(change: Change): Promise<void> {
    const kept = await soon(
      this.ports.store.change(change).then(() => true),
      false,
      this.ports.keepMs,
    );
    if (kept !== this.sent.keeps) this.tell({ keeps: kept });
  }

  private tell(change: Partial<Sent>): void {
    const next = { ...this.sent, ...change };
    const same = (Object.keys(next) as (keyof Sent)[]).every((key) => next[key] === this.sent[key]);
    if (same) return;
    this.sent = next;
    this.listeners.forEach((listener) => listener());
  }
}

function aside(
  event: PendingEvent,
  why: AsideKind,
  code: string,
  sentence: string,
  confirm: boolean,
  shown: boolean,
): AsideEvent {
  return { ...event, why, code, sentence, confirm, told: shown };
}

const stale = (event: PendingEvent): AsideEvent =>
  aside(
    event,
    "stale",
    "moved_on",
    "The trial went on at another bench since this was entered here.",
    false,
    false,
  );

/** The later of two states of a trial: answers can overtake each other, and a ledger only grows. */
export function laterOf(old: TrialState | undefined, fresh: TrialState): TrialState {
  return old && old.result.next_sequence > fresh.result.next_sequence ? old : fresh;
}

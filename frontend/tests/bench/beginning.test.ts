/** A trial that began while the server could not be asked: told before any entry, once, and asked about where it clashes. */
import { afterEach, describe, expect, it } from "vitest";
import type { TrialState } from "../../src/api/types";
import { newId } from "../../src/shared/newId";
import { good } from "../server";
import { told } from "../told";
import {
  beginTrial,
  endTrialsOf,
  freshOutbox,
  held,
  ledgers,
  place,
  STORY,
  Tab,
  tell,
  type Fate,
} from "./lossy";
import { until } from "../until";

const { run, designs } = told.world.runs.begun_bridge;
const design = designs[1] ?? 0;
const bench = "77777777-7777-4777-8777-777777777777";
afterEach(() => endTrialsOf(run));

/** What its next trial begins with, as it is fetched while there is a network. */
async function ahead(): Promise<TrialState> {
  const all = await good<TrialState[]>(`/api/runs/${run}/ahead`);
  const own = all.find((next) => next.design === design);
  if (!own) throw new Error("no trial ahead");
  return own;
}

interface Card {
  id: string;
  number: number;
  started_at: string;
}

async function trials(): Promise<Card[]> {
  const { designs: all } = await good<{ designs: { id: number; trials: Card[] }[] }>(`/api/runs/${run}`);
  return all.find((one) => one.id === design)?.trials ?? [];
}

describe("a trial that began without the server", () => {
  it.each<Fate>(["through", "request_lost", "answer_lost", "doubled", "never", "overtaken", { status: 503 }])(
    "is there once, with all its entries, when the word of it is at first: %s",
    async (fate) => {
      const next = await ahead();
      const trial = newId();
      let away = 3;
      const line = { fate: () => "through" as const, begun: () => (away-- > 0 ? fate : "through") };
      const tab = new Tab(trial, bench, freshOutbox(), line, { answerMs: 250 });
      await tab.begin(design, next);
      const made = tell(tab, STORY.slice(0, 4));
      await tab.settled();
      const ledger = (await ledgers(run)).get(trial) ?? [];
      expect(ledger.map((event) => event.id)).toEqual(made.map((event) => event.id));
      const [last] = (await trials()).slice(-1);
      expect([last?.id, last?.number]).toEqual([trial, next.number]);
      // It began when it began, and not when the server heard of it.
      expect(Date.now() - Date.parse(last?.started_at ?? "")).toBeGreaterThan(110_000);
    },
  );

  it("begins with what it would have begun with at the server", async () => {
    const next = await ahead();
    const there = await good<TrialState>(`/api/designs/${design}/trials`, "POST", { id: newId(), bench });
    const bare = (state: TrialState) => ({ ...state, id: "", bench: null, arrangement: "" });
    expect(bare(next)).toEqual(bare(there));
  });

  it("survives that the page is closed before the server has heard of it", async () => {
    const next = await ahead();
    const trial = newId();
    const store = freshOutbox();
    const away = { fate: () => "through" as const, begun: () => "request_lost" as const };
    const first = new Tab(trial, bench, store, away);
    await first.begin(design, next);
    const made = tell(first, [place("platform"), held]);
    await until(async () => expect((await store.of(trial)).events).toHaveLength(2));
    first.sender.close();
    expect(await store.trials()).toEqual([trial]);
    const again = new Tab(trial, bench, store, { fate: () => "through" });
    again.memory.learn({ ...next, id: trial, bench });
    await again.sender.start();
    await again.settled();
    expect(((await ledgers(run)).get(trial) ?? []).map((event) => event.id)).toEqual(
      made.map((event) => event.id),
    );
    await until(async () => expect(await store.trials()).toEqual([]));
  });

  it("is asked about where its team was tested elsewhere meanwhile, and then is one more", async () => {
    const next = await ahead();
    const trial = newId();
    const store = freshOutbox();
    let away = true;
    const line = {
      fate: () => "through" as const,
      begun: () => (away ? ("request_lost" as const) : "through"),
    };
    const tab = new Tab(trial, bench, store, line);
    await tab.begin(design, next);
    const made = tell(tab, [place("platform"), held]);
    await beginTrial(design, newId());
    await endTrialsOf(run);
    away = false;
    // The other one was ended; this one is still known to its tab alone.
    await until(() => expect(tab.sender.snapshot().saving).toBe("not_begun"));
    const { beginning, pending } = tab.sender.snapshot();
    expect(beginning?.refused?.confirm).toBe(true);
    expect(beginning?.refused?.sentence).toMatch(/tested at another bench meanwhile/);
    expect(pending.map((event) => event.id)).toEqual(made.map((event) => event.id));
    // Nothing is merged in silence, after a reload neither.
    await until(async () => expect((await store.of(trial)).beginning?.refused?.confirm).toBe(true));
    expect((await ledgers(run)).get(trial)).toBeUndefined();
    tab.sender.beginAgain(true);
    await tab.settled();
    expect((await trials()).at(-1)).toMatchObject({ id: trial, number: next.number + 1 });
    expect((await ledgers(run)).get(trial)).toHaveLength(2);
  });

  it("left out, nothing of it is left, here or there", async () => {
    const next = await ahead();
    const trial = newId();
    const store = freshOutbox();
    const other = await beginTrial(design, newId());
    const tab = new Tab(trial, bench, store, { fate: () => "through" });
    await tab.begin(design, { ...next, number: next.number + 1 });
    tell(tab, [place("platform")]);
    await tab.settled();
    expect(tab.sender.snapshot().beginning?.refused).toMatchObject({ confirm: false });
    await tab.sender.leaveAllOut();
    expect(await store.of(trial)).toEqual({ events: [], aside: [] });
    const now = await ledgers(run);
    expect([now.has(trial), now.has(other)]).toEqual([false, true]);
  });
});

/** Nothing is lost and nothing stands twice, whatever becomes of requests and answers on their way. */
import { afterAll, afterEach, describe, expect, it } from "vitest";
import type { Outbox, PendingEvent } from "../../src/features/bench/outbox";
import { told } from "../told";
import {
  beginTrial,
  endTrials,
  freshOutbox,
  GIVE_UP_MS,
  held,
  ledgers,
  place,
  STORY,
  Tab,
  tell,
  type Entry,
  type Fate,
  type Line,
} from "./lossy";

const { run, designs } = told.world.runs.lossy_bridge;
const [first = 0, second = 0] = designs;
afterEach(endTrials);

// The quick suite tries fewer of the same.
const quick = process.env["GIRDER_QUICK"] === "1";
const POSITIONS = quick ? [1] : [0, 1, 3];
const SEEDS = quick ? 3 : 8;

/** Random numbers that are the same at every run (mulberry32). */
function drawn(seed: number): () => number {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const impatient = (trial: string, bench: string, store: Outbox, line: Line): Promise<Tab> =>
  new Tab(trial, bench, store, line, { answerMs: GIVE_UP_MS }).open();

const expected: { trial: string; made: PendingEvent[]; apart: Set<string>; what: string }[] = [];

describe("a line that loses and doubles", () => {
  // Every request of the story, one after the other, meets each fate once.
  const fates: Fate[] = ["request_lost", "answer_lost", "doubled", "late", "never", "overtaken"];
  // What costs no waiting can happen often.
  const cheap: Fate[] = ["request_lost", "answer_lost", "doubled", "late", { status: 503 }, { status: 500 }];
  const cases = fates.flatMap((fate) => POSITIONS.map((at) => [fate, at] as const));

  it.each(cases)("%s at request %i: each entry stands once, in order", async (fate, at) => {
    let request = 0;
    const line: Line = { fate: () => (request++ === at ? fate : "through") };
    const trial = await beginTrial(first, "11111111-1111-4111-8111-111111111111");
    const tab = await impatient(trial, "11111111-1111-4111-8111-111111111111", freshOutbox(), line);
    const made: PendingEvent[] = [];
    for (const entry of STORY) {
      made.push(...tell(tab, [entry]));
      if (made.length % 3 === 0) await tab.settled();
    }
    await tab.settled();
    const { aside } = tab.sender.snapshot();
    expect(aside.map((event) => [event.why, event.code])).toEqual([["refused", "kit_exceeded"]]);
    expected.push({ trial, made, apart: new Set(aside.map((e) => e.id)), what: `${String(fate)} at ${at}` });
  });

  it.each(Array.from({ length: SEEDS }, (_, seed) => [seed]))(
    "at random, with pages that close (%i): nothing lost, nothing twice",
    async (seed) => {
      const draw = drawn(seed);
      const pick = <T>(from: readonly T[]): T => from[Math.floor(draw() * from.length)] as T;
      let faults = 40;
      const line: Line = {
        fate: () => (faults-- > 0 && draw() < 0.45 ? pick(draw() < 0.85 ? cheap : fates) : "through"),
      };
      const trial = await beginTrial(second, "22222222-2222-4222-8222-222222222222");
      const store = freshOutbox();
      let tab = await impatient(trial, "22222222-2222-4222-8222-222222222222", store, line);
      const tabs = [tab];
      const made: PendingEvent[] = [];
      const moves: Entry[] = [
        place("nut"),
        place("nut", 2),
        held,
        held,
        ["observe", { sign: "lean" }],
        ["measure", { key: "sag", text: "12", zero: "", resolution: "1 mm" }], // no unit: refused
        place("nut", 80),
        ["remove", { item: "nut", count: 1 }],
      ];
      made.push(...tell(tab, [place("platform")]));
      for (let i = 0; i < 18; i += 1) {
        if (draw() < 0.12) {
          // The page is closed and opened again: what is kept goes on.
          tab.sender.close();
          await new Promise((done) => setTimeout(done, 5));
          tab = await impatient(trial, "22222222-2222-4222-8222-222222222222", store, line);
          tabs.push(tab);
        }
        if (draw() < 0.15) {
          const last = made.at(-1);
          if (last) made.push(...tell(tab, [["undo", { event: last.id }]]));
        } else made.push(...tell(tab, [pick(moves)]));
        if (draw() < 0.3) await new Promise((done) => setTimeout(done, draw() * 30));
      }
      await tab.settled();
      expect((await store.of(trial)).events).toEqual([]);
      const named = tabs.flatMap((tab) => [...tab.named.values()]);
      expected.push({ trial, made, apart: new Set(named.map((event) => event.id)), what: `seed ${seed}` });
      // Nobody else was at this trial, so nothing can be stale, and nothing in these entries is beyond the server.
      for (const event of named) expect(event.why).toBe("refused");
    },
  );

  afterAll(async () => {
    const kept = await ledgers(run);
    expect(expected.length).toBe(6 * POSITIONS.length + SEEDS);
    for (const { trial, made, apart, what } of expected) {
      const ledger = kept.get(trial) ?? [];
      const mine = ledger.filter((event) => made.some((entry) => entry.id === event.id));
      // In the ledger, or set aside and named, and never both; each once, in the order in which it was made.
      expect(
        mine.map((event) => event.id),
        what,
      ).toEqual(made.map((event) => event.id).filter((id) => !apart.has(id)));
      expect(
        ledger.map((event) => event.sequence),
        what,
      ).toEqual(ledger.map((_, i) => i + 1));
      expect(ledger.length - mine.length, what).toBeLessThanOrEqual(1);
    }
  });
});

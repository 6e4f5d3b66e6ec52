/** Nothing jams: what can never be taken, what is stale, what an older version left, a server or a database away. */
import { openDB } from "idb";
import { afterEach, describe, expect, it } from "vitest";
import type { TrialState } from "../../src/api/types";
import { Outbox } from "../../src/features/bench/outbox";
import type { Ports } from "../../src/features/bench/TrialSender";
import { newId } from "../../src/shared/newId";
import { good } from "../server";
import { told } from "../told";
import {
  beginTrial,
  brokenStore,
  endTrials,
  freshOutbox,
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
import { until } from "../until";

const { run, designs } = told.world.runs.sender_bridge;
const third = designs[2] ?? 0;
afterEach(endTrials);

const through: Line = { fate: () => "through" };

describe("an entry that can never be taken", () => {
  const bench = "33333333-3333-4333-8333-333333333333";
  const withFault = async (answer: (id: string) => Fate, story: Entry[] = STORY.slice(0, 4)) => {
    let bad = "";
    const line: Line = {
      fate: (body) => (body?.events.some((event) => event.id === bad) ? answer(bad) : "through"),
    };
    const trial = await beginTrial(third, bench);
    const store = freshOutbox();
    const tab = await new Tab(trial, bench, store, line).open();
    const before = tell(tab, story.slice(0, 2));
    await tab.settled();
    const [poisoned] =
      (tab.sender.act("observe", { sign: "crack" }), tab.sender.snapshot().pending.slice(-1));
    bad = poisoned?.id ?? "";
    const after = tell(tab, story.slice(2));
    await tab.settled();
    return { tab, trial, bad, before, after, store };
  };

  it.each([400, 404, 409, 413, 500])(
    "refused with %i each time, it is set aside, and the rest goes on",
    async (status) => {
      const { tab, trial, bad, after } = await withFault(() => ({ status }));
      const { aside, pending, saving } = tab.sender.snapshot();
      expect([pending.length, saving]).toEqual([0, "saved"]);
      expect(aside.map((event) => [event.id, event.why])).toEqual([[bad, "broken"]]);
      expect(aside[0]?.sentence).toBe("A made-up refusal.");
      const ledger = (await ledgers(run)).get(trial) ?? [];
      expect(ledger.slice(-2).map((event) => event.id)).toEqual(after.map((event) => event.id));
      expect(ledger.map((event) => event.sequence)).toEqual([1, 2, 3, 4]);
    },
  );

  it("kept for the teacher, it is written down when it is tried again", async () => {
    let broken = true;
    const { tab, trial, bad } = await withFault(() => (broken ? { status: 400 } : "through"));
    broken = false;
    tab.sender.again(bad);
    await tab.settled();
    expect(tab.sender.snapshot().aside).toEqual([]);
    const ledger = (await ledgers(run)).get(trial) ?? [];
    expect(ledger.at(-1)?.id).toBe(bad);
  });

  it("left out, it is gone for good, on the next visit too", async () => {
    const { tab, trial, bad, store } = await withFault(() => ({ status: 400 }));
    // Until somebody says what becomes of it, the next visit hears of it, whichever trial it opens.
    await until(async () => expect(await store.trials()).toEqual([trial]));
    tab.sender.leaveOut(bad);
    expect(tab.sender.snapshot().aside).toEqual([]);
    await until(async () => expect(await store.of(trial)).toEqual({ events: [], aside: [] }));
    expect(await store.trials()).toEqual([]);
  });

  it("a server that is away is not the entry's fault", async () => {
    const trial = await beginTrial(third, bench);
    let away = 12;
    // Not even the state of the trial is to be had: 500 from everything, as while a database restarts.
    const line: Line = { fate: () => (away-- > 0 ? { status: 500 } : "through") };
    const tab = await new Tab(trial, bench, freshOutbox(), line).open();
    tell(tab, STORY.slice(0, 4));
    await tab.settled();
    expect(tab.sender.snapshot().aside).toEqual([]);
    expect((await ledgers(run)).get(trial)).toHaveLength(4);
  });

  it("an id that stands in the ledger with other contents is set aside", async () => {
    const trial = await beginTrial(third, bench);
    const store = freshOutbox();
    const tab = await new Tab(trial, bench, store, through).open();
    const [platform] = tell(tab, [place("platform")]);
    await tab.settled();
    tab.sender.close();
    if (!platform) throw new Error("nothing was made");
    await store.change({ put: [{ ...platform, sequence: 2, data: { item: "nut", count: 1 } }] });
    const again = await new Tab(trial, bench, store, through).open();
    tell(again, [held]);
    await again.settled();
    expect(again.sender.snapshot().aside.map((event) => [event.why, event.code])).toEqual([
      ["broken", "event_changed"],
    ]);
    expect(((await ledgers(run)).get(trial) ?? []).map((event) => event.kind)).toEqual(["place", "settle"]);
  });
});

describe("a queue that an older version left", () => {
  const bench = "44444444-4444-4444-8444-444444444444";

  it("is taken over, its gaps closed, and what no server knows set aside", async () => {
    const trial = await beginTrial(third, bench);
    const name = `older ${trial}`;
    // Version 1 knew one store, no bench, and left out data that was empty.
    const old = await openDB(name, 1, {
      upgrade(db) {
        db.createObjectStore("events", { keyPath: "id" }).createIndex("trial", "trial");
      },
    });
    const entry = (sequence: number, kind: string, data?: unknown) =>
      old.put("events", { id: newId(), trial, sequence, kind, data, happened_at: "2026-11-01T10:00:00Z" });
    await entry(1, "place", { item: "platform", count: 1 });
    await entry(2, "settle", { waited_s: 5 });
    await entry(4, "wobble", {});
    await entry(7, "place", { item: "nut", count: 1 });
    old.close();
    const store = new Outbox(name);
    const tab = await new Tab(trial, bench, store, through).open();
    await tab.settled();
    expect(tab.sender.snapshot().aside.map((event) => [String(event.kind), event.why])).toEqual([
      ["wobble", "broken"],
    ]);
    const ledger = (await ledgers(run)).get(trial) ?? [];
    expect(ledger.map((event) => [event.sequence, event.kind])).toEqual([
      [1, "place"],
      [2, "settle"],
      [3, "place"],
    ]);
    expect((await store.of(trial)).events).toEqual([]);
  });

  it.each(["refuses", "hangs"] as const)(
    "a browser database that %s keeps nothing from the server",
    async (how) => {
      const trial = await beginTrial(third, bench);
      const tab = await new Tab(trial, bench, brokenStore(how), through, { keepMs: 300 }).open();
      tell(tab, STORY.slice(0, 2));
      await tab.settled();
      expect((await ledgers(run)).get(trial)).toHaveLength(2);
      await until(() => expect(tab.sender.snapshot().keeps).toBe(false));
    },
  );
});

describe("two benches", () => {
  const here = "55555555-5555-4555-8555-555555555555";
  const there = "66666666-6666-4666-8666-666666666666";

  it.each([["nothing", []] as [string, Entry[]], ["something", [place("nut", 3)]] as [string, Entry[]]])(
    "what a stale tab pressed is asked about, when the other bench did %s",
    async (_, other) => {
      const trial = await beginTrial(third, here);
      const stale = await new Tab(trial, here, freshOutbox(), through).open();
      tell(stale, STORY.slice(0, 2));
      await stale.settled();
      const second = await new Tab(trial, there, freshOutbox(), through).open();
      await second.sender.takeOver();
      tell(second, other);
      await second.settled();
      // It does not know yet.
      const [pressed] = tell(stale, [place("nut", 5)]);
      await stale.settled();
      expect(stale.sender.snapshot().saving).toBe("busy");
      await stale.sender.takeOver();
      expect(stale.sender.snapshot().pending).toEqual([]);
      expect(stale.sender.snapshot().aside.map((event) => [event.id, event.why])).toEqual([
        [pressed?.id, "stale"],
      ]);
      expect(((await ledgers(run)).get(trial) ?? []).some((event) => event.id === pressed?.id)).toBe(false);
      // Asked, and added.
      stale.sender.again(pressed?.id ?? "");
      await stale.settled();
      expect((await ledgers(run)).get(trial)?.at(-1)?.id).toBe(pressed?.id);
    },
  );

  it("nothing doubtful is sent before it was asked about, though that answer is lost and the line comes back", async () => {
    const trial = await beginTrial(third, here);
    let away = false;
    const asked: boolean[] = [];
    const line: Line = {
      fate: (body) => {
        if (body && away) asked.push(body.only_known);
        return body && away ? "answer_lost" : "through";
      },
    };
    const stale = await new Tab(trial, here, freshOutbox(), line).open();
    tell(stale, STORY.slice(0, 2));
    await stale.settled();
    const second = await new Tab(trial, there, freshOutbox(), through).open();
    await second.sender.takeOver();
    const [pressed] = tell(stale, [place("nut", 5)]);
    await stale.settled();
    away = true;
    await stale.sender.takeOver();
    // What the page does when the network comes back, and when something more is entered.
    await stale.sender.start();
    const [more] = tell(stale, [place("nut")]);
    await until(() => expect(asked.length).toBeGreaterThan(2));
    expect(asked).not.toContain(false);
    expect(stale.sender.snapshot().saving).not.toBe("saved");
    away = false;
    await stale.settled();
    expect(stale.sender.snapshot().aside.map((event) => [event.id, event.why])).toEqual([
      [pressed?.id, "stale"],
      [more?.id, "stale"],
    ]);
    expect((await ledgers(run)).get(trial)).toHaveLength(2);
  });

  it("an entry that cannot even be asked about is set aside with the others, and nothing jams", async () => {
    const trial = await beginTrial(third, here);
    const line: Line = { fate: (body) => (body?.only_known ? { status: 400 } : "through") };
    const stale = await new Tab(trial, here, freshOutbox(), line).open();
    tell(stale, STORY.slice(0, 2));
    await stale.settled();
    const second = await new Tab(trial, there, freshOutbox(), through).open();
    await second.sender.takeOver();
    const [pressed] = tell(stale, [place("nut", 5)]);
    await stale.settled();
    await stale.sender.takeOver();
    expect(stale.sender.snapshot()).toMatchObject({ pending: [], saving: "saved" });
    stale.sender.again(pressed?.id ?? "");
    await stale.settled();
    expect((await ledgers(run)).get(trial)?.at(-1)?.id).toBe(pressed?.id);
  });

  it("an entry whose answer was lost is known at take-over, whatever came after it", async () => {
    const trial = await beginTrial(third, here);
    let lose = false;
    const lossy: Line = { fate: (body) => (lose && body && !body.only_known ? "answer_lost" : "through") };
    const tab = await new Tab(trial, here, freshOutbox(), lossy, { retryMs: 60_000 }).open();
    tell(tab, STORY.slice(0, 2));
    await tab.settled();
    lose = true;
    const [written] = tell(tab, [place("nut", 5)]);
    await until(async () => expect((await ledgers(run)).get(trial)).toHaveLength(3));
    const other = await new Tab(trial, there, freshOutbox(), through).open();
    await other.sender.takeOver();
    const [theirs] = tell(other, [held]);
    await other.settled();
    lose = false;
    await tab.sender.takeOver();
    await tab.settled();
    expect(tab.sender.snapshot()).toMatchObject({ pending: [], aside: [], saving: "saved" });
    tell(tab, [place("nut")]);
    await tab.settled();
    const ledger = (await ledgers(run)).get(trial) ?? [];
    expect(ledger.slice(2, 4).map((event) => event.id)).toEqual([written?.id, theirs?.id]);
    expect(ledger).toHaveLength(5);
  });

  it("the same tablet with a new tab goes on without being asked", async () => {
    const trial = await beginTrial(third, here);
    let away = false;
    const store = freshOutbox();
    const tab = await new Tab(trial, here, store, { fate: () => (away ? "request_lost" : "through") }).open();
    tell(tab, STORY.slice(0, 2));
    await tab.settled();
    away = true;
    const kept = tell(tab, STORY.slice(2, 4));
    await until(async () => expect((await store.of(trial)).events).toHaveLength(2));
    tab.sender.close();
    const reopened = await new Tab(trial, there, store, through).open();
    await reopened.settled();
    expect(reopened.sender.snapshot().saving).toBe("busy");
    await reopened.sender.takeOver();
    await reopened.settled();
    expect(reopened.sender.snapshot().aside).toEqual([]);
    expect(((await ledgers(run)).get(trial) ?? []).slice(-2).map((event) => event.id)).toEqual(
      kept.map((event) => event.id),
    );
  });
});

describe("a browser's database that takes its time", () => {
  const before = "77777777-7777-4777-8777-777777777777";
  const after = "88888888-8888-4888-8888-888888888888";
  /** A store that answers what it kept only when it is let, and a tab that does not wait so long for it. */
  const slowly = (trial: string, bench: string, store: Outbox) => {
    let answer = () => {};
    const allowed = new Promise<void>((done) => (answer = done));
    const of: Ports["store"]["of"] = (asked) => allowed.then(() => store.of(asked));
    const slow: Ports["store"] = { of, change: (change) => store.change(change) };
    return { answer, tab: new Tab(trial, bench, slow, through, { keepMs: 300 }) };
  };
  /** Four entries that an earlier visit kept and could not send. */
  const kept = async () => {
    const trial = await beginTrial(third, before);
    const store = freshOutbox();
    const tab = await new Tab(trial, before, store, { fate: () => "request_lost" }).open();
    const made = tell(tab, STORY.slice(0, 4));
    await until(async () => expect((await store.of(trial)).events).toHaveLength(4));
    tab.sender.close();
    return { trial, store, made: made.map((event) => event.id) };
  };
  const written = async (trial: string) => (await ledgers(run)).get(trial)?.map((event) => event.id) ?? [];

  it("what it kept is sent when it comes, though nobody waited for it", async () => {
    const { trial, store, made } = await kept();
    const { tab, answer } = slowly(trial, before, store);
    await tab.open();
    answer();
    await until(async () => expect(await written(trial)).toEqual(made));
    await tab.settled();
    expect([tab.sender.snapshot().aside, tab.sender.snapshot().saving]).toEqual([[], "saved"]);
    expect((await store.of(trial)).events).toEqual([]);
  });

  it("taken over by a new tab meanwhile, it goes on from what was kept", async () => {
    const { trial, store, made } = await kept();
    const { tab, answer } = slowly(trial, after, store);
    tab.memory.learn(await good<TrialState>(`/api/trials/${trial}`));
    await tab.sender.takeOver();
    answer();
    await until(async () => expect(await written(trial)).toEqual(made));
    await tab.settled();
    expect(tab.sender.snapshot().aside).toEqual([]);
  });

  it("what was entered before it answered stands, and what it kept is asked about", async () => {
    const { trial, store, made } = await kept();
    const { tab, answer } = slowly(trial, before, store);
    await tab.open();
    const [fresh] = tell(tab, STORY.slice(0, 1));
    await tab.settled();
    answer();
    await until(() => expect(tab.sender.snapshot().aside).toHaveLength(4));
    await tab.settled();
    expect(await written(trial)).toEqual([fresh?.id]);
    expect(tab.sender.snapshot().aside.map((event) => [event.id, event.why])).toEqual(
      made.map((id) => [id, "stale"]),
    );
  });

  it("kept while another bench had the trial, it is asked about", async () => {
    const { trial, store, made } = await kept();
    await good(`/api/trials/${trial}/take-over`, "POST", { bench: "99999999-9999-4999-8999-999999999999" });
    const { tab, answer } = slowly(trial, after, store);
    tab.memory.learn(await good<TrialState>(`/api/trials/${trial}`));
    await tab.sender.takeOver();
    answer();
    await until(() => expect(tab.sender.snapshot().aside).toHaveLength(4));
    await tab.settled();
    expect(await written(trial)).toEqual([]);
    expect(tab.sender.snapshot().aside.map((event) => event.id)).toEqual(made);
  });
});

describe("what else may come", () => {
  const bench = "77777777-7777-4777-8777-777777777777";

  it("a late answer of an older state does not turn the ledger back", async () => {
    const trial = await beginTrial(third, bench);
    const tab = await new Tab(trial, bench, freshOutbox(), through).open();
    const older = await good<TrialState>(`/api/trials/${trial}`);
    tell(tab, STORY.slice(0, 2));
    await tab.settled();
    tab.memory.learn(older);
    expect(tab.memory.state?.result.next_sequence).toBe(3);
  });

  it("signed out, entries wait, and go on after signing in", async () => {
    const trial = await beginTrial(third, bench);
    let out = false;
    const line: Line = { fate: () => (out ? { status: 403 } : "through") };
    const tab = await new Tab(trial, bench, freshOutbox(), line).open();
    out = true;
    tell(tab, STORY.slice(0, 2));
    await until(() =>
      expect(tab.sender.snapshot()).toMatchObject({ saving: "signed_out", trouble: "", aside: [] }),
    );
    out = false;
    await tab.settled();
    expect((await ledgers(run)).get(trial)).toHaveLength(2);
  });

  it("taken out of the class, entries wait here, it is said why, and they go on after coming back", async () => {
    const trial = await beginTrial(third, bench);
    let out = false;
    const sentence = "You are not in 8 Tern any more.";
    const line: Line = { fate: () => (out ? { status: 403, code: "out_of_class", sentence } : "through") };
    const tab = await new Tab(trial, bench, freshOutbox(), line).open();
    out = true;
    tell(tab, STORY.slice(0, 2));
    await until(() =>
      expect(tab.sender.snapshot()).toMatchObject({ saving: "out", trouble: sentence, aside: [] }),
    );
    expect(tab.sender.snapshot().pending).toHaveLength(2);
    out = false;
    await tab.settled();
    expect((await ledgers(run)).get(trial)).toHaveLength(2);
  });

  it("what the rules only ask about is taken when it is confirmed", async () => {
    const trial = await beginTrial(third, bench);
    const tab = await new Tab(trial, bench, freshOutbox(), through).open();
    tell(tab, [place("platform"), held, ["run_out", { reason: "no_more_load" }]]);
    await tab.settled();
    const [asked] = tab.sender.snapshot().aside;
    expect([asked?.code, asked?.confirm]).toEqual(["load_left", true]);
    expect(asked?.sentence).toContain("50 × nut");
    tab.sender.again(asked?.id ?? "", { confirmed: true });
    await tab.settled();
    expect(tab.memory.state?.result.outcome).toBe("ran_out");
    expect(tab.sender.snapshot().aside).toEqual([]);
  });

  it("an entry that the rules refuse at once is told, and makes room for the next", async () => {
    const trial = await beginTrial(third, bench);
    const tab = await new Tab(trial, bench, freshOutbox(), through).open();
    tell(tab, [held]);
    await tab.settled();
    expect(tab.sender.snapshot().aside.map((event) => [event.code, event.told])).toEqual([
      ["nothing_to_settle", true],
    ]);
    tell(tab, [place("platform")]);
    expect(tab.sender.snapshot().aside).toEqual([]);
    await tab.settled();
  });
});

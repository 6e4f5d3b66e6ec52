// @vitest-environment jsdom
/** While something waits here, every request says how old the oldest is; once it went out, none does. */
import { QueryClient } from "@tanstack/react-query";
import { afterEach, expect, it, vi } from "vitest";
import { api } from "../../src/api/client";
import { keys } from "../../src/api/queries";
import { oldestUnsentS, UNSENT_HEADER, waitsSince } from "../../src/api/unsent";
import { senderOf } from "../../src/features/bench/senders";
import { site } from "../site";
import { until } from "../until";

const TRIAL = "0a7a2f5e-3f5e-4d0c-9f57-6a3c1f0b9d11";
const said: (string | null)[] = [];
const told = async () => {
  await api.GET("/api/session").catch(() => undefined);
  return said.at(-1);
};
afterEach(() => vi.useRealTimers());

it("an entry that could not be sent is told of with every request, till it went out", async () => {
  let away = true;
  const state = { id: TRIAL, bench: null, result: { next_sequence: 1 } };
  site.fetch = (input) => {
    const request = input as Request;
    said.push(request.headers.get(UNSENT_HEADER));
    if (away) return Promise.reject(new TypeError("no network"));
    const answer = request.method === "POST" ? { accepted: ids(), refused: null, state } : state;
    return Promise.resolve(new Response(JSON.stringify(answer), { status: 200 }));
  };
  const client = new QueryClient();
  client.setQueryData(keys.trial(TRIAL), state);
  const sender = senderOf(client, TRIAL);
  const ids = () => sender.snapshot().pending.map((entry) => entry.id);
  expect(await told()).toBeNull();
  vi.useFakeTimers({ toFake: ["Date"], now: Date.parse("2026-11-03T10:00:00Z") });
  sender.act("observe", { sign: "crack" });
  vi.setSystemTime(Date.parse("2026-11-03T10:01:30Z"));
  expect(await told()).toBe("90");
  // What comes later is no older.
  sender.act("observe", { sign: "lean" });
  expect(await told()).toBe("90");
  away = false;
  await sender.start();
  await until(() => expect(sender.snapshot().pending).toHaveLength(0));
  expect(await told()).toBeNull();
  sender.close();
});

it("the oldest of several counts, and a clock that was put back makes none younger than nothing", () => {
  waitsSince("one", 60_000);
  waitsSince("other", 40_000);
  expect(oldestUnsentS(100_000)).toBe(60);
  waitsSince("other", null);
  expect(oldestUnsentS(100_000)).toBe(40);
  expect(oldestUnsentS(10_000)).toBe(0);
  waitsSince("one", Number.NaN);
  expect(oldestUnsentS(100_000)).toBeNull();
});

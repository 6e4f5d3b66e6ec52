// @vitest-environment jsdom
/** What was fetched last, opened without a network: brought back, or begun with nothing, but never waited for in vain. */
import { QueryClient } from "@tanstack/react-query";
import { openDB } from "idb";
import { afterEach, describe, expect, it } from "vitest";
import { bringBack, keepFetched } from "../../src/api/keptQueries";
import { noAnswer } from "../noAnswer";
import { site } from "../site";
import { until } from "../until";

const usual = site.fetch;
afterEach(() => {
  site.fetch = usual;
});

const without = () => {
  site.fetch = () => Promise.reject(new TypeError("network error"));
};

const database = () =>
  openDB("even-girder-fetched", 1, { upgrade: (db) => void db.createObjectStore("fetched") });

/** A page that has fetched a run, and has kept it. */
async function visit(name: string): Promise<void> {
  const client = new QueryClient();
  keepFetched(client);
  client.setQueryData(["run", 1], { name });
  await until(async () => {
    const kept = (await (await database()).get("fetched", "all")) as unknown;
    expect(JSON.stringify(kept)).toContain(name);
  });
}

describe("a page that is opened without a network", () => {
  it("has what was fetched last", async () => {
    without();
    await visit("Lattice week");
    const client = new QueryClient();
    await bringBack(client);
    expect(client.getQueryData(["run", 1])).toEqual({ name: "Lattice week" });
  });

  it("begins with nothing where the browser's database does not answer, or holds what cannot be read", async () => {
    without();
    await visit("Lattice week");
    const back = await noAnswer();
    const stuck = new QueryClient();
    await bringBack(stuck);
    expect(stuck.getQueryData(["run", 1])).toBeUndefined();
    back();
    await (await database()).put("fetched", { at: Date.now(), state: { queries: 5 } }, "all");
    const odd = new QueryClient();
    await bringBack(odd);
    expect(odd.getQueryData(["run", 1])).toBeUndefined();
  });

  it("shows nothing that is older than a day", async () => {
    without();
    await visit("Lattice week");
    const db = await database();
    const kept = (await db.get("fetched", "all")) as object;
    await db.put("fetched", { ...kept, at: Date.now() - 25 * 3600 * 1000 }, "all");
    const client = new QueryClient();
    await bringBack(client);
    expect(client.getQueryData(["run", 1])).toBeUndefined();
  });
});

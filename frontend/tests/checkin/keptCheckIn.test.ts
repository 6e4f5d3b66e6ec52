// @vitest-environment jsdom
/** What is typed at check-in is there at once, whatever the browser's own database does. */
import { QueryClient } from "@tanstack/react-query";
import { openDB } from "idb";
import { afterEach, describe, expect, it } from "vitest";
import type { Design } from "../../src/api/types";
import { keptCheckIns } from "../../src/features/checkin/keptCheckIn";
import { noAnswer } from "../noAnswer";
import { site } from "../site";
import { until } from "../until";

const usual = site.fetch;
afterEach(() => {
  site.fetch = usual;
});

const reading = (key: string, text: string) => ({
  key,
  text,
  resolution_text: "1 mm",
  stood: null,
  again: false,
});

describe("check-in without a network", () => {
  it("what an earlier version of the interface kept is sent like the rest, and asked about", async () => {
    const db = await openDB("even-girder-check-in", 1, {
      upgrade: (fresh) => void fresh.createObjectStore("kept", { keyPath: "design" }),
    });
    const old = { key: "gap", text: "31 cm", resolution_text: "1 mm", confirmed: false, before: "30 cm" };
    const rest = { run: 1, answers: [], checkIn: true, confirmed: false, refused: null };
    await db.put("kept", { design: 9, readings: [old], ...rest });
    db.close();
    const sent: unknown[] = [];
    site.fetch = async (input) => {
      sent.push(await (input as Request).json());
      throw new TypeError("network error");
    };
    const kept = keptCheckIns(new QueryClient());
    await kept.start();
    await until(() => expect(sent).toHaveLength(1));
    const name = kept.of(9)?.readings[0]?.sent_as;
    expect(name).toMatch(/^[0-9a-f-]{36}$/);
    const reading = { key: "gap", text: "31 cm", stood: 0, again: false, uses: [], sent_as: name };
    expect(sent[0]).toMatchObject({ check_in: true, readings: [reading] });
    await kept.leaveOut(9);
  });

  it("a database that does not answer loses nothing of what is typed", async () => {
    site.fetch = () => Promise.reject(new TypeError("network error"));
    const back = await noAnswer();
    const kept = keptCheckIns(new QueryClient());
    const tern = { id: 5 } as Design;
    await kept.keep(tern, 1, { readings: [reading("gap", "31 cm") as never] });
    await kept.keep(tern, 1, { readings: [reading("self_mass", "30 g") as never], checkIn: true });
    expect(kept.of(5)?.readings.map((one) => one.text)).toEqual(["31 cm", "30 g"]);
    expect(kept.of(5)?.checkIn).toBe(true);
    expect(await kept.send(5)).toBe(false);
    back();
  });
});

/** What is typed at check-in is there at once, whatever the browser's own database does. */
import { QueryClient } from "@tanstack/react-query";
import { afterEach, describe, expect, it } from "vitest";
import type { Design } from "../../src/api/types";
import { keptCheckIns } from "../../src/features/checkin/keptCheckIn";
import { noAnswer } from "../noAnswer";
import { site } from "../site";

const usual = site.fetch;
afterEach(() => {
  site.fetch = usual;
});

const reading = (key: string, text: string) => ({ key, text, resolution: "1 mm", before: null });

describe("check-in without a network", () => {
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

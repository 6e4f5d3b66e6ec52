/** What is kept of check-in: in the order it was typed, going by what stood there, and less when a part was sent. */
import { describe, expect, it } from "vitest";
import type { Design } from "../../src/api/types";
import {
  bodyOf,
  older,
  rest,
  withMore,
  type KeptCheckIn,
  type KeptReading,
} from "../../src/features/checkin/whatIsKept";

let names = 0;
const reading = (key: string, text: string, stood: number | null, again = false): KeptReading => ({
  key,
  text,
  stood,
  again,
  resolution_text: "1 mm",
  zero_text: "",
  tare_text: "",
  confirmed: false,
  uses: [],
  sent_as: `name ${++names}`,
});
const answer = (key: string, value: boolean, before: boolean | null) => ({ key, value, before });
const kept = (...more: Parameters<typeof withMore>[3][]): KeptCheckIn =>
  more.reduce<KeptCheckIn | undefined>((old, one) => withMore(5, 1, old, one), undefined) as KeptCheckIn;
const texts = (one: KeptCheckIn | null) => one?.readings.map(({ text, stood }) => [text, stood]);

/** A design as the server shows it. */
const shown = (more: Partial<Design>): Design =>
  ({
    id: 5,
    readings: [],
    answers: {},
    level: "",
    controls_broken: [],
    away: "",
    ...more,
  }) as unknown as Design;

describe("what is kept of a check-in", () => {
  it("a repeat goes behind those it repeats, and a new reading takes the place of all of them", () => {
    const first = kept(
      { readings: [reading("gap", "30 cm", 7)] },
      { readings: [reading("gap", "31 cm", 7, true)] },
    );
    expect(texts(first)).toEqual([
      ["30 cm", 7],
      ["31 cm", 7],
    ]);
    const anew = withMore(5, 1, first, { readings: [reading("gap", "29 cm", null)] });
    expect(texts(anew)).toEqual([["29 cm", 7]]);
  });

  it("what is set twice counts as set last, and goes by what stood there at first", () => {
    const twice = kept(
      { level: { value: "4 folds", before: "" }, answers: [answer("stands", true, null)] },
      { level: { value: "8 folds", before: "4 folds" }, answers: [answer("stands", false, true)] },
      { controls_broken: { value: ["tape"], before: [] } },
    );
    expect(bodyOf(twice)).toMatchObject({
      level: { value: "8 folds", before: "" },
      answers: [{ key: "stands", value: false, before: null }],
      controls_broken: { value: ["tape"], before: [] },
    });
  });

  it("whoever is checked in is here, unless it is said afterwards", () => {
    const away = { value: "absent" as const, before: "" as const };
    expect(bodyOf(kept({ away }, { checkIn: true }))).not.toHaveProperty("away");
    expect(bodyOf(kept({ checkIn: true }, { away }))).toMatchObject({ away, check_in: true });
  });

  it("what an earlier visit kept comes before what was typed since", () => {
    const visit = kept({
      readings: [reading("gap", "30 cm", null)],
      level: { value: "4 folds", before: "" },
    });
    const since = kept({
      readings: [reading("gap", "31 cm", null, true)],
      level: { value: "8 folds", before: "4 folds" },
    });
    const all = older(visit, since);
    expect(texts(all)).toEqual([
      ["30 cm", null],
      ["31 cm", null],
    ]);
    expect(all.level).toEqual({ value: "8 folds", before: "" });
    expect(older(visit, undefined)).toBe(visit);
  });

  it("once a part was sent, what was typed meanwhile goes by what is there now", () => {
    const sent = kept(
      { readings: [reading("gap", "30 cm", null)], answers: [answer("stands", true, null)] },
      { level: { value: "4 folds", before: "" } },
    );
    const now = [
      { readings: [reading("gap", "31 cm", null, true), reading("self_mass", "38 g", null)] },
      { answers: [answer("stands", false, true)], level: { value: "8 folds", before: "4 folds" } },
    ].reduce((old, more) => withMore(5, 1, old, more), sent);
    const there = shown({
      readings: [{ key: "gap", id: 21 }] as Design["readings"],
      answers: { stands: true },
      level: "4 folds",
    });
    const left = rest(now, sent, there);
    expect(texts(left)).toEqual([
      ["31 cm", 21],
      ["38 g", null],
    ]);
    expect(left).toMatchObject({
      answers: [{ key: "stands", value: false, before: true }],
      level: { value: "8 folds", before: "4 folds" },
    });
  });

  it("nothing is left where all that was typed is there, and a check-in typed meanwhile is", () => {
    const sent = kept({ readings: [reading("gap", "30 cm", null)], away: { value: "absent", before: "" } });
    const there = shown({ readings: [{ key: "gap", id: 21 }] as Design["readings"], away: "absent" });
    expect(rest({ ...sent }, sent, there)).toBeNull();
    expect(rest({ ...sent, checkIn: true }, sent, there)).toMatchObject({ checkIn: true, readings: [] });
  });
});

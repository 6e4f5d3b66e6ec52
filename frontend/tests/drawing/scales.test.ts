import { describe, expect, it } from "vitest";
import { bridgeFrame, layersOf, pile } from "../../src/drawing/bridgeGeometry";
import { curveScale } from "../../src/drawing/curveScale";
import { ladderEnd } from "../../src/drawing/ladderScale";
import { fit } from "../../src/drawing/scale";
import { ticks } from "../../src/drawing/ticks";
import { told } from "../told";

describe("axes", () => {
  it.each([0.003, 0.05, 0.79, 1.0, 2.4, 44.5, 873.0, 1e5])(
    "ticks up to %s are round, evenly spaced and reach as far as they can",
    (top) => {
      const marks = ticks(top, 6);
      const step = marks[1] ?? NaN;
      const digits = Number(step.toExponential(6).split("e")[0]);
      expect([1, 2, 5]).toContain(Number(digits.toFixed(6)));
      expect(marks[0]).toBe(0);
      marks.slice(1).forEach((tick, i) => expect(tick - (marks[i] ?? NaN)).toBeCloseTo(step, 9));
      expect(marks.at(-1)).toBeLessThanOrEqual(top * (1 + 1e-9));
      expect((marks.at(-1) ?? 0) + step).toBeGreaterThan(top);
      expect(marks.length).toBeGreaterThanOrEqual(4);
      expect(marks.length).toBeLessThanOrEqual(8);
    },
  );

  it("an axis of nothing has its zero", () => {
    expect(ticks(0, 6)).toEqual([0]);
  });
});

describe("ladders and curves", () => {
  it("the weakest states fill a ladder, and strong ones run off", () => {
    const states = [
      { low_n: 8, high_n: 18 },
      { low_n: 10, high_n: 23 },
      { low_n: 700, high_n: 900 },
    ];
    expect(ladderEnd(states, null)).toBeCloseTo(3.2 * 18 * 1.04, 9);
  });

  it("a mark near by is on the ladder, and one far off is not waited for", () => {
    const states = [{ low_n: 8, high_n: 18 }];
    expect(ladderEnd(states, 60)).toBeGreaterThanOrEqual(60);
    expect(ladderEnd(states, 6000)).toBeLessThan(100);
  });

  it("what fails under its own weight sets no scale", () => {
    const states = [
      { low_n: 0, high_n: 0, by_itself: true },
      { low_n: 8, high_n: 18, by_itself: false },
    ];
    expect(ladderEnd(states, null)).toBeCloseTo(18 * 1.04, 9);
  });

  it("what never fails breaks no ladder", () => {
    const states = [
      { low_n: 8, high_n: null },
      { low_n: null, high_n: null },
    ];
    expect(ladderEnd(states, null)).toBeGreaterThan(0);
  });

  it("a curve stays in its field", () => {
    const curve = {
      points: [
        [0, 0],
        [0.5, 3],
        [1, 1],
      ],
      here: [1.2, 2],
    };
    const scale = curveScale(curve as unknown as Parameters<typeof curveScale>[0], 330, 190);
    expect([scale.right, scale.top]).toEqual([1.2, 3]);
    const numbers = scale.path
      .replaceAll(/[ML]/g, " ")
      .trim()
      .split(/[\s,]+/)
      .map(Number);
    expect(numbers.length).toBeGreaterThanOrEqual(6);
    numbers.forEach((number, i) => {
      expect(number).toBeGreaterThanOrEqual(0);
      expect(number).toBeLessThanOrEqual(i % 2 === 0 ? 330 : 190);
    });
  });
});

describe("drawings to scale", () => {
  it.each(told.drawings.map((drawing) => [drawing.family, drawing.box] as const))(
    "a %s fits its field",
    (_, box) => {
      const [width, height, room] = [400, 262, 30];
      const [left, bottom, right, top] = box;
      const { perM } = fit({ box: [...box] } as unknown as Parameters<typeof fit>[0], width, height, room);
      const [across, up] = [(right - left) * perM, (top - bottom) * perM];
      expect(across).toBeLessThanOrEqual(width - 2 * room + 1e-6);
      expect(up).toBeLessThanOrEqual(height - 2 * room + 1e-6);
      // It is as large as it can be: one of the two fills its room.
      const slack = Math.min(width - 2 * room - across, height - 2 * room - up);
      expect(Math.abs(slack)).toBeLessThan(1e-6);
    },
  );

  const layer = (key: string, shape: string, count: number, widthMm: number, heightMm: number) =>
    ({ key, shape, count, state: "held", diameterM: widthMm / 1000, thicknessM: heightMm / 1000 }) as const;
  const pieces = () =>
    pile([
      layer("platform", "platform", 1, 90, 6),
      layer("bag", "bag", 2, 70, 34),
      layer("nut", "nut", 23, 20, 10),
    ] as unknown as Parameters<typeof pile>[0]);

  it("every object of a pile is drawn in its own size", () => {
    const sizes: Record<string, [number, number]> = { platform: [90, 6], bag: [70, 34], nut: [20, 10] };
    expect(pieces()).toHaveLength(26);
    for (const piece of pieces()) {
      const [width, height] = sizes[piece.shape] ?? [0, 0];
      expect(piece.width).toBeCloseTo(width, 7);
      expect(piece.height).toBeCloseTo(height, 7);
    }
  });

  it("objects rest on something and do not overlap", () => {
    const all = pieces();
    const tops = new Set([0, ...all.map((piece) => Number(piece.y.toFixed(6)))]);
    all.forEach((a, i) => {
      expect(tops.has(Number((a.y + a.height).toFixed(6)) + 0)).toBe(true);
      all.slice(i + 1).forEach((b) => {
        const beside = a.x + a.width <= b.x + 1e-6 || b.x + b.width <= a.x + 1e-6;
        const above = a.y + a.height <= b.y + 1e-6 || b.y + b.height <= a.y + 1e-6;
        expect(beside || above).toBe(true);
      });
    });
  });

  it("the pile is no wider than its platform, and stands in the middle", () => {
    const all = pieces();
    expect(Math.min(...all.map((piece) => piece.x))).toBeGreaterThanOrEqual(-45.001);
    expect(Math.max(...all.map((piece) => piece.x + piece.width))).toBeLessThanOrEqual(45.001);
    const row = all.filter((piece) => piece.shape === "nut").slice(0, 4);
    expect(row[0]?.x).toBeCloseTo(-((row.at(-1)?.x ?? 0) + (row.at(-1)?.width ?? 0)), 7);
  });

  it("what is taken off comes off the latest", () => {
    const items = [{ key: "nut", shape: "nut", diameter_m: 0.02, thickness_m: 0.01 }];
    const step = { item: "nut", state: "held", mass_kg: 1, signs: [], event_id: "x" };
    const steps = [
      { ...step, kind: "place", count: 3 },
      { ...step, kind: "place", count: 2 },
      { ...step, kind: "remove", count: 4 },
    ];
    const layers = layersOf(
      steps as unknown as Parameters<typeof layersOf>[0],
      items as unknown as Parameters<typeof layersOf>[1],
    );
    expect(layers.map((layer) => layer.count)).toEqual([1, 0]);
  });

  it("the frame of a bridge is to scale", () => {
    const frame = bridgeFrame(0.36, 0.034, 0.057);
    expect([frame.gap, frame.left, frame.right]).toEqual([360, 34, 57]);
    expect(frame.supportWidth).toBeGreaterThan(57);
  });
});

import { describe, expect, it } from "vitest";
import { labelWidth, placeLabels, rowsOf } from "../../src/drawing/labels";

/** Numbers that are the same at each run. */
function dice(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state * 1103515245 + 12345) % 2147483648;
    return state / 2147483648;
  };
}

describe("labels over a line", () => {
  it("never run into each other, and stay inside, wherever their marks are", () => {
    for (let seed = 1; seed <= 300; seed++) {
      const roll = dice(seed);
      const labels = Array.from({ length: 1 + Math.floor(roll() * 6) }, () => ({
        text: "x".repeat(3 + Math.floor(roll() * 22)),
        at: roll() * 600,
      }));
      const placed = placeLabels(labels, 20, [0, 600]);
      expect(placed.length).toBe(labels.length);
      placed.forEach((one, i) => {
        const half = labelWidth(one.text, 20) / 2;
        expect(one.middle - half).toBeGreaterThanOrEqual(-1e-9);
        expect(one.middle + half).toBeLessThanOrEqual(600 + 1e-9);
        for (const other of placed.slice(i + 1)) {
          const apart = Math.abs(one.middle - other.middle) - half - labelWidth(other.text, 20) / 2;
          expect(one.level !== other.level || apart > 0).toBe(true);
        }
      });
    }
  });

  it("stand in one row where they have room, and rise only as far as they must", () => {
    const row = (...at: number[]) =>
      rowsOf(
        placeLabels(
          at.map((x) => ({ text: "target", at: x })),
          20,
          [0, 600],
        ),
      );
    expect(row(50, 300, 550)).toBe(1);
    expect(row(300, 310)).toBe(2);
    expect(row(300, 301, 302, 550)).toBe(3);
    expect(row()).toBe(0);
  });
});

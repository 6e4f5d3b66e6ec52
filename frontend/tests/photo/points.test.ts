import { describe, expect, it } from "vitest";
import {
  far,
  firstPoints,
  inside,
  moved,
  nearest,
  onEdge,
  withCorner,
  type Point,
} from "../../src/features/photo/points";

const square: Point[] = [
  [0, 0],
  [10, 0],
  [10, 10],
  [0, 10],
];

describe("points of a picture", () => {
  it("are chosen by what is nearest", () => {
    expect(nearest(square, [9, 8])).toEqual({ index: 2, away: Math.hypot(1, 2) });
    expect(nearest([], [1, 1]).index).toBe(-1);
  });

  it("stay inside the picture", () => {
    expect(inside([-5, 700], 800, 600)).toEqual([0, 599]);
    expect(inside([12.5, 30.25], 800, 600)).toEqual([12.5, 30.25]);
  });

  it("move one at a time", () => {
    expect(moved(square, 1, [12, 1])).toEqual([
      [0, 0],
      [12, 1],
      [10, 10],
      [0, 10],
    ]);
    expect(square[1]).toEqual([10, 0]);
  });

  it("go to the nearest place of an edge, and no farther than asked", () => {
    const edges = [
      [
        [0, 100],
        [200, 100],
      ],
      [
        [50, 0],
        [50, 90],
      ],
    ] as const;
    expect(onEdge(edges, [60, 97], 20)).toEqual([60, 100]);
    // Beyond its end an edge is its end.
    expect(onEdge(edges, [206, 100], 20)).toEqual([200, 100]);
    expect(onEdge(edges, [120, 50], 20)).toBeNull();
    expect(
      onEdge(
        [
          [
            [5, 5],
            [5, 5],
          ],
        ],
        [5, 5],
        20,
      ),
    ).toBeNull();
  });

  it("begin as two ends, or as the four corners of an area", () => {
    expect(firstPoints(false, 1000, 500)).toHaveLength(2);
    const corners = firstPoints(true, 1000, 500);
    expect(corners).toHaveLength(4);
    expect(corners.every(([x, y]) => x > 0 && x < 1000 && y > 0 && y < 500)).toBe(true);
  });

  it("get a corner half-way to the next one, round the end too", () => {
    expect(withCorner(square, 0)[1]).toEqual([5, 0]);
    expect(withCorner(square, 3)[4]).toEqual([0, 5]);
    expect(withCorner(square, 9)).toEqual(square);
    expect(far([0, 0], [3, 4])).toBe(5);
  });
});

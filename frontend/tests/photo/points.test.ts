import { describe, expect, it } from "vitest";
import {
  far,
  firstPoints,
  inside,
  moved,
  nearest,
  eachOutline,
  onEdge,
  oneOutline,
  outlineAt,
  withCorner,
  withOutline,
  withoutCorner,
  type Point,
} from "../../src/features/photo/points";

const square: Point[] = [
  [0, 0],
  [10, 0],
  [10, 10],
  [0, 10],
];

const withPoint = (at: number, point: Point): Point[] => [...square.slice(0, at), point, ...square.slice(at)];

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
    const one = oneOutline(square);
    expect(withCorner(one, 0)).toEqual({ points: withPoint(1, [5, 0]), outlines: [5] });
    expect(withCorner(one, 3).points[4]).toEqual([0, 5]);
    expect(withCorner(one, 9)).toEqual(one);
    expect(far([0, 0], [3, 4])).toBe(5);
  });

  it("of several outlines stay with their own", () => {
    const two = withOutline(oneOutline(square), 1000, 500);
    expect(two.outlines).toEqual([4, 4]);
    expect([3, 4, 7].map((i) => outlineAt(two.outlines, i).which)).toEqual([0, 1, 1]);
    expect(eachOutline(two)[0]).toEqual(square);
    // Round the end of the first one, not on to the second.
    expect(withCorner(two, 3).points[4]).toEqual([0, 5]);
    expect(withCorner(two, 3).outlines).toEqual([5, 4]);
    const [last, fifth] = [two.points[7], two.points[4]];
    expect(withCorner(two, 7).points[8]).toEqual([
      ((last?.[0] ?? 0) + (fifth?.[0] ?? 0)) / 2,
      ((last?.[1] ?? 0) + (fifth?.[1] ?? 0)) / 2,
    ]);
  });

  it("lose a corner, and with its last three an outline, but never the only one", () => {
    const three = withoutCorner(oneOutline(square), 1);
    expect(three).toEqual(oneOutline([square[0], square[2], square[3]] as Point[]));
    expect(withoutCorner(three, 0)).toEqual(three);
    const two = withOutline(three, 1000, 500);
    expect(withoutCorner(two, 0).outlines).toEqual([4]);
    expect(eachOutline(withoutCorner(two, 4))).toEqual([three.points, [3, 5, 6].map((i) => two.points[i])]);
  });
});

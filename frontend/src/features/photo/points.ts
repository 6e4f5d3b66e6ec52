/** Points of a picture, in its pixels: which one is meant, where it may go, how it moves to an edge. Arithmetic only. */
export type Point = readonly [number, number];

/** What is pointed at: the points, and how many of them each outline has; of a length both ends are one outline. */
export interface Shape {
  readonly points: readonly Point[];
  readonly outlines: readonly number[];
}
export type Edge = readonly [Point, Point];

/** Where the arrow keys move a point. */
export const STEPS: Readonly<Record<string, Point>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

export const far = (a: Point, b: Point): number => Math.hypot(a[0] - b[0], a[1] - b[1]);

/** The place in the list of the point that is nearest, and how far away it is. */
export function nearest(points: readonly Point[], at: Point): { index: number; away: number } {
  let found = { index: -1, away: Infinity };
  points.forEach((point, index) => {
    const away = far(point, at);
    if (away < found.away) found = { index, away };
  });
  return found;
}

/** The point, kept inside a picture of this size. */
export const inside = ([x, y]: Point, width: number, height: number): Point => [
  Math.min(width - 1, Math.max(0, x)),
  Math.min(height - 1, Math.max(0, y)),
];

/** The list with one of its points moved. */
export const moved = (points: readonly Point[], index: number, to: Point): Point[] =>
  points.map((point, i) => (i === index ? to : point));

/** The nearest place on an edge, no farther than `reach` away; null where there is none. */
export function onEdge(edges: readonly Edge[], at: Point, reach: number): Point | null {
  let best: Point | null = null;
  let least = reach;
  for (const [[ax, ay], [bx, by]] of edges) {
    const [dx, dy] = [bx - ax, by - ay];
    const long2 = dx * dx + dy * dy;
    if (long2 === 0) continue;
    const share = Math.min(1, Math.max(0, ((at[0] - ax) * dx + (at[1] - ay) * dy) / long2));
    const place: Point = [ax + share * dx, ay + share * dy];
    const away = far(place, at);
    if (away < least) [best, least] = [place, away];
  }
  return best;
}

/** Where the first points lie when nobody knows better: two for a length, four corners for an area. */
export function firstPoints(area: boolean, width: number, height: number): Point[] {
  const [left, right] = [0.35 * width, 0.65 * width];
  const [top, bottom] = [0.35 * height, 0.65 * height];
  return area
    ? [
        [left, top],
        [right, top],
        [right, bottom],
        [left, bottom],
      ]
    : [
        [left, height / 2],
        [right, height / 2],
      ];
}

/** One outline, of these points. */
export const oneOutline = (points: readonly Point[]): Shape => ({ points, outlines: [points.length] });

/** Which outline a point belongs to, where that begins, and how many corners it has. */
export function outlineAt(outlines: readonly number[], index: number) {
  let first = 0;
  for (const [which, count] of outlines.entries()) {
    if (index < first + count) return { which, first, count };
    first += count;
  }
  return { which: 0, first: 0, count: outlines[0] ?? 0 };
}

/** The points of each outline. */
export function eachOutline({ points, outlines }: Shape): (readonly Point[])[] {
  let first = 0;
  return outlines.map((count) => points.slice(first, (first += count)));
}

const recounted = (outlines: readonly number[], which: number, by: number): number[] =>
  outlines.map((count, i) => (i === which ? count + by : count));

/** One more corner, half-way from this one to the next of its outline. */
export function withCorner(shape: Shape, after: number): Shape {
  const { points, outlines } = shape;
  const { which, first, count } = outlineAt(outlines, after);
  const [a, b] = [points[after], points[first + ((after - first + 1) % count)]];
  if (!a || !b) return shape;
  const between: Point = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  return {
    points: [...points.slice(0, after + 1), between, ...points.slice(after + 1)],
    outlines: recounted(outlines, which, 1),
  };
}

/** Without this corner; a triangle goes as a whole, unless it is the only outline. */
export function withoutCorner(shape: Shape, index: number): Shape {
  const { points, outlines } = shape;
  const { which, first, count } = outlineAt(outlines, index);
  if (count > 3)
    return { points: points.filter((_, i) => i !== index), outlines: recounted(outlines, which, -1) };
  if (outlines.length === 1) return shape;
  return {
    points: [...points.slice(0, first), ...points.slice(first + count)],
    outlines: outlines.filter((_, i) => i !== which),
  };
}

/** One more outline, a small one in the middle of the picture, to be moved. */
export function withOutline({ points, outlines }: Shape, width: number, height: number): Shape {
  const half = 0.04 * width;
  const corners = firstPoints(true, 1, 1).map(([x, y]): Point => [
    width / 2 + (half * (x - 0.5)) / 0.15,
    height / 2 + (half * (y - 0.5)) / 0.15,
  ]);
  return { points: [...points, ...corners], outlines: [...outlines, corners.length] };
}

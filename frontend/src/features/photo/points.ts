/** Points of a picture, in its pixels: which one is meant, where it may go, how it moves to an edge. Arithmetic only. */
export type Point = readonly [number, number];
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

/** The corners with one more, half-way from this one to the next. */
export function withCorner(points: readonly Point[], after: number): Point[] {
  const [a, b] = [points[after], points[(after + 1) % points.length]];
  if (!a || !b) return [...points];
  const between: Point = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  return [...points.slice(0, after + 1), between, ...points.slice(after + 1)];
}

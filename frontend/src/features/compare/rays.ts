/** Where rays of equal ratio leave a chart of load against own weight. Arithmetic for drawing only. */

export interface Ray {
  ratio: number;
  /** End of the ray, in the units of the axes. */
  selfMass: number;
  load: number;
}

const NICE = [
  1, 2, 3, 5, 8, 10, 15, 20, 25, 30, 40, 50, 60, 80, 100, 150, 200, 300, 400, 500, 800, 1000, 1500, 2000,
];

/** Five or so round ratios that cross the chart, each with the point where it leaves it. */
export function rays(maxSelfMass: number, maxLoad: number, ratios: readonly number[]): Ray[] {
  const low = Math.min(...ratios) * 0.55;
  const high = Math.max(...ratios) * 1.7;
  const inside = NICE.filter((ratio) => ratio >= low && ratio <= high);
  const every = Math.max(1, Math.ceil(inside.length / 6));
  return inside
    .filter((_, i) => i % every === 0)
    .map((ratio) => {
      const selfMass = Math.min(maxSelfMass, maxLoad / ratio);
      return { ratio, selfMass, load: selfMass * ratio };
    });
}

interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface Label {
  x: number;
  y: number;
  text: string;
  anchor: "start" | "end";
}

/** Labels beside their points, moved to the other side or down where two would lie on each other. */
export function placeLabels(
  points: readonly { x: number; y: number; text: string }[],
  right: number,
  size: number,
): Label[] {
  const taken: Box[] = points.map((p) => ({ x: p.x - 11, y: p.y - 11, width: 22, height: 22 }));
  const free = (box: Box) =>
    !taken.some(
      (t) =>
        box.x < t.x + t.width &&
        t.x < box.x + box.width &&
        box.y < t.y + t.height &&
        t.y < box.y + box.height,
    );
  return points.map((p) => {
    const width = p.text.length * size * 0.5;
    const tries: Label[] = [0, size * 1.05, -size * 1.05, size * 2].flatMap((dy) => [
      { x: p.x + 16, y: p.y + size * 0.35 + dy, text: p.text, anchor: "start" as const },
      { x: p.x - 16, y: p.y + size * 0.35 + dy, text: p.text, anchor: "end" as const },
    ]);
    const boxOf = (label: Label): Box => ({
      x: label.anchor === "start" ? label.x : label.x - width,
      y: label.y - size,
      width,
      height: size * 1.2,
    });
    const chosen =
      tries.find((label) => free(boxOf(label)) && boxOf(label).x + width < right && boxOf(label).x > 0) ??
      tries[0];
    const label = chosen ?? { x: p.x, y: p.y, text: p.text, anchor: "start" };
    taken.push(boxOf(label));
    return label;
  });
}

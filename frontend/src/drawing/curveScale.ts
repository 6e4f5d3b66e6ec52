/** Where a curve's points lie on a field. Arithmetic only. */
import type { DraftCurve } from "../api/types";

const LEFT = 4;
const TOP = 50;
const BOTTOM = 22;

export function curveScale(curve: Pick<DraftCurve, "points" | "here">, width: number, height: number) {
  const all = curve.here ? [...curve.points, curve.here] : curve.points;
  const right = Math.max(1e-12, ...all.map(([x = 0]) => x));
  const top = Math.max(1e-12, ...all.map(([, y = 0]) => y));
  const at = (x: number, y: number): [number, number] => [
    LEFT + (x / right) * (width - LEFT - 14),
    height - BOTTOM - (y / top) * (height - BOTTOM - TOP),
  ];
  const path = curve.points
    .map(([x = 0, y = 0], i) => {
      const [px, py] = at(x, y);
      return `${i === 0 ? "M" : "L"}${px.toFixed(1)} ${py.toFixed(1)}`;
    })
    .join("");
  return { at, path, right, top };
}

/** One scale for a whole drawing: metres to the field's units, y upwards to y downwards. Arithmetic only. */
import type { Drawing } from "../api/types";

export interface Scale {
  perM: number;
  /** Width of the field [px]. */
  width: number;
  at: (x: number, y: number) => [number, number];
}

/** The largest scale at which the drawing fits a field, with room for the labels at its edges. */
export function fit(drawing: Pick<Drawing, "box">, width: number, height: number, room: number): Scale {
  const [left = 0, bottom = 0, right = 1, top = 1] = drawing.box;
  const perM = Math.min((width - 2 * room) / (right - left), (height - 2 * room) / (top - bottom));
  const x0 = (width - (right - left) * perM) / 2 - left * perM;
  const y0 = (height + (top - bottom) * perM) / 2 + bottom * perM;
  return { perM, width, at: (x, y) => [x0 + x * perM, y0 - y * perM] };
}

/** Where everything of a bridge on its bench lies, in millimetres. Arithmetic for drawing only; no rule lives here. */
import type { KitItem, Step } from "../api/types";

export type PieceState = "held" | "waiting" | "broke";

export interface StackLayer {
  key: string;
  shape: KitItem["shape"];
  count: number;
  diameterM: number;
  thicknessM: number;
  state: PieceState;
}

export interface Piece {
  key: string;
  shape: KitItem["shape"];
  x: number;
  y: number;
  width: number;
  height: number;
  state: PieceState;
}

const DEFAULT_WIDTH_MM = 24;
const DEFAULT_HEIGHT_MM = 10;
const LEAST_DECK_MM = 80;

function sizeMm(layer: StackLayer): { width: number; height: number } {
  return {
    width: layer.diameterM > 0 ? layer.diameterM * 1000 : DEFAULT_WIDTH_MM,
    height: layer.thicknessM > 0 ? layer.thicknessM * 1000 : DEFAULT_HEIGHT_MM,
  };
}

/** Pile the layers in rows as wide as the platform, centred on x = 0, upward from y = 0 (y grows downward). */
export function pile(layers: readonly StackLayer[]): Piece[] {
  const platform = layers.find((layer) => layer.shape === "platform");
  const widest = Math.max(LEAST_DECK_MM, ...layers.filter((l) => l.count > 0).map((l) => sizeMm(l).width));
  const rowWidth = platform ? Math.max(sizeMm(platform).width, widest * 0.999) : widest;
  const pieces: Piece[] = [];
  let top = 0;
  let row: Piece[] = [];
  let rowHeight = 0;

  const closeRow = () => {
    const used = row.reduce((sum, piece) => sum + piece.width, 0);
    let x = -used / 2;
    for (const piece of row) {
      pieces.push({ ...piece, x, y: top - piece.height });
      x += piece.width;
    }
    top -= rowHeight;
    row = [];
    rowHeight = 0;
  };

  for (const layer of layers) {
    const { width, height } = sizeMm(layer);
    for (let i = 0; i < layer.count; i += 1) {
      const used = row.reduce((sum, piece) => sum + piece.width, 0);
      const sameKind = row.length === 0 || row[0]?.shape === layer.shape;
      if (row.length > 0 && (!sameKind || used + width > rowWidth + 0.01)) closeRow();
      row.push({ key: layer.key, shape: layer.shape, x: 0, y: 0, width, height, state: layer.state });
      rowHeight = Math.max(rowHeight, height);
    }
  }
  if (row.length > 0) closeRow();
  return pieces;
}

/** What is on the bridge, from the steps of a trial; what was taken off comes off the latest of its kind. */
export function layersOf(steps: readonly Step[], kit: readonly KitItem[]): StackLayer[] {
  const layers: StackLayer[] = [];
  for (const step of steps) {
    const item = kit.find((entry) => entry.key === step.item);
    if (!item) continue;
    if (step.kind === "remove") {
      let left = step.count;
      for (const layer of [...layers].reverse()) {
        if (layer.key !== step.item) continue;
        const off = Math.min(left, layer.count);
        layer.count -= off;
        left -= off;
      }
      continue;
    }
    layers.push({
      key: step.item,
      shape: item.shape,
      count: step.count,
      diameterM: item.diameter_m,
      thicknessM: item.thickness_m,
      state: step.state === "waiting" ? "waiting" : step.state === "broke" ? "broke" : "held",
    });
  }
  return layers;
}

export interface BridgeFrame {
  gap: number;
  left: number;
  right: number;
  deckDepth: number;
  supportWidth: number;
  supportHeight: number;
}

/** The bench in millimetres; the deck's depth is not measured, so it is drawn as a twelfth of the gap. */
export function bridgeFrame(gapM: number, leftM: number, rightM: number): BridgeFrame {
  const gap = gapM * 1000;
  return {
    gap,
    left: leftM * 1000,
    right: rightM * 1000,
    deckDepth: Math.max(8, gap / 12),
    supportWidth: Math.max(60, leftM * 1000 + 14, rightM * 1000 + 14),
    supportHeight: gap * 0.3,
  };
}

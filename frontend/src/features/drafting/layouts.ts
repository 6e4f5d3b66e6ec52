/** How each kind of draft is laid out: its drawings, and which settings lie at hand below them. */

export interface Layout {
  /** Drawings in rows; each with its share of the row and the height of the row [px]. */
  rows: readonly { height: number; views: readonly { key: string; share: number }[] }[];
  /** Settings worked while looking at the drawing, largest first; all others follow in a list. */
  hand: readonly string[];
  /** Where the graph stands: beside the drawings or under the ladder. */
  curve: "row" | "side";
}

export const LAYOUTS: Readonly<Record<string, Layout>> = {
  sheet_bridge: {
    rows: [
      { height: 125, views: [{ key: "section", share: 1 }] },
      { height: 185, views: [{ key: "side", share: 1 }] },
    ],
    hand: ["shape"],
    curve: "side",
  },
  truss: {
    rows: [{ height: 290, views: [{ key: "truss", share: 1 }] }],
    hand: ["pattern", "placement"],
    curve: "side",
  },
  hanging: {
    rows: [{ height: 300, views: [{ key: "side", share: 1 }] }],
    hand: ["form", "placement", "sag_m", "anchor_kg"],
    curve: "side",
  },
  strip_arch: {
    rows: [{ height: 290, views: [{ key: "side", share: 1 }] }],
    hand: ["placement", "feet", "rise_m"],
    curve: "side",
  },
  plank: {
    rows: [{ height: 290, views: [{ key: "above", share: 1 }] }],
    hand: ["placement", "planks", "item_m"],
    curve: "side",
  },
  column: {
    rows: [
      {
        height: 290,
        views: [
          { key: "side", share: 3 },
          { key: "above", share: 2 },
        ],
      },
      { height: 190, views: [{ key: "enough", share: 1 }] },
    ],
    hand: ["shape"],
    curve: "side",
  },
  boat: {
    rows: [
      {
        height: 250,
        views: [
          { key: "water", share: 3 },
          { key: "edge", share: 3 },
          { key: "sheet", share: 2 },
          { key: "above", share: 2 },
        ],
      },
    ],
    hand: ["hull", "cargo_kg", "offset_m", "wall_m"],
    curve: "row",
  },
  tower: {
    rows: [
      {
        height: 310,
        views: [
          { key: "side", share: 1 },
          { key: "tipped", share: 1 },
        ],
      },
    ],
    hand: ["test", "bracing", "isolation"],
    curve: "side",
  },
  tripod: {
    rows: [
      {
        height: 310,
        views: [
          { key: "side", share: 3 },
          { key: "above", share: 2 },
        ],
      },
    ],
    hand: ["feet", "height_m", "circle_m"],
    curve: "side",
  },
  ring: {
    rows: [
      {
        height: 310,
        views: [
          { key: "plan", share: 3 },
          { key: "side", share: 2 },
        ],
      },
    ],
    hand: ["circle_m", "strut_m"],
    curve: "row",
  },
  arch: {
    rows: [{ height: 300, views: [{ key: "arch", share: 1 }] }],
    hand: ["layers", "tail_kg"],
    curve: "side",
  },
  wall: { rows: [{ height: 290, views: [{ key: "end", share: 1 }] }], hand: ["push_m"], curve: "side" },
  furniture: {
    rows: [
      {
        height: 290,
        views: [
          { key: "above", share: 1 },
          { key: "side", share: 1 },
        ],
      },
    ],
    hand: ["flutes"],
    curve: "side",
  },
  drop: {
    rows: [{ height: 290, views: [{ key: "side", share: 1 }] }],
    hand: ["drop_m", "floor"],
    curve: "row",
  },
};

export const PLAIN_LAYOUT: Layout = { rows: [], hand: [], curve: "side" };

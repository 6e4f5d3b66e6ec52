/** The board's own ground and inks: dark, with numerals that read at eight metres. */
export const board = {
  ground: "#182124",
  sheet: "#223034",
  text: "#f7f3ea",
  soft: "#b9c4c2",
  line: "#46575b",
  held: "#6fd0b2",
  watch: "#f0b94f",
  oxide: "#ee8a6c",
} as const;

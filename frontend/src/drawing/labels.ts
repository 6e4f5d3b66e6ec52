/** Labels over marks on a line: as near to their marks as they can stand without running into each other. */

export interface Label {
  text: string;
  /** Where its mark is. */
  at: number;
}

export interface PlacedLabel extends Label {
  /** Where its middle is. */
  middle: number;
  /** Its row, 0 the one nearest to the line. */
  level: number;
}

/** The widest that a letter of the shipped fonts is on the average of a label, as a share of its size. */
const LETTER = 0.5;

export const labelWidth = (text: string, size: number): number => text.length * LETTER * size;

/**
 * Puts labels of one size into rows. Each is in the middle of its mark or pushed inside the edges, and in the lowest
 * row that has room for it.
 */
export function placeLabels(
  labels: readonly Label[],
  size: number,
  [left, right]: readonly [number, number],
): PlacedLabel[] {
  const ends: number[] = [];
  return [...labels]
    .sort((a, b) => a.at - b.at)
    .map((label) => {
      const half = Math.min(labelWidth(label.text, size), right - left) / 2;
      const middle = Math.min(Math.max(label.at, left + half), right - half);
      const free = ends.findIndex((end) => end + size / 2 <= middle - half);
      const level = free < 0 ? ends.length : free;
      ends[level] = middle + half;
      return { ...label, middle, level };
    });
}

export const rowsOf = (placed: readonly PlacedLabel[]): number =>
  Math.max(0, ...placed.map((label) => label.level + 1));

/** What readings are taken with, and what such an instrument usually shows. */
import type { QuantityKind } from "../api/types";

/** The instrument of a kind of reading: an area and a volume are measured with the ruler. */
export const instrumentOf = (kind: QuantityKind) => (kind === "area" || kind === "volume" ? "length" : kind);

export type Instrument = ReturnType<typeof instrumentOf>;

/** Its smallest step, as it is typed; a young class may count lengths in a unit of its own. */
export const usualSteps = (ownUnit: string | undefined): Record<Instrument, string> => ({
  length: ownUnit ? `1 ${ownUnit}` : "1 mm",
  mass: "0.1 g",
  time: "1 s",
  count: "1",
  frequency: "0.1 Hz",
});

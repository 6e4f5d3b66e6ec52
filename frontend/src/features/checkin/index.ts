/** What others use of check-in. */
export { ReadingRow } from "./ReadingRow";

/** What others use of check-in. */
export { ReadingRow } from "./ReadingRow";
export { keptCheckIns } from "./keptCheckIn";
export { useSendKept } from "./useCheckInWrite";

/** What others use of check-in. */
export { AwayControl } from "./AwayControl";
export { ReadingRow } from "./ReadingRow";
export { keptCheckIns } from "./keptCheckIn";
export { useSendKept } from "./useCheckInWrite";

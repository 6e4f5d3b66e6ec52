export { DraftTable } from "./DraftTable";
export { begun, isKept, type DraftState } from "./draftState";
export { KindButtons } from "./KindButtons";

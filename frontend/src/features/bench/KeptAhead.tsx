/** Fetches what the next tests would begin with, so that they can begin without a network: for pages from where one goes to the bench. */
import { useRunState } from "../run";
import { useAhead } from "./beginning";

export function KeptAhead() {
  useAhead(useRunState().state);
  return null;
}

/** Fetches what the next tests would begin with, so that they can begin without a network; shows nothing. */
import { useRunState } from "../run";
import { useAhead } from "./beginning";

export function KeptAhead() {
  useAhead(useRunState().state);
  return null;
}

/** What others use of the bench. */
export { roundFigure, sizeWords } from "./roundWords";
export { trialAddress } from "./TrialList";

/** What others use of the bench. */
export { heightWords, roundFigure } from "./roundWords";
export { measuresOf } from "./trialWords";
export { resultWords } from "./resultWords";
export { trialAddress } from "./TrialList";

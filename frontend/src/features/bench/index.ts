/** What others use of the bench. */
export { ChoicePanel } from "./ChoicePanel";
export { CorrectPanel } from "./CorrectPanel";
export { changeWords, entryWords } from "./entryWords";
export { newId } from "./outbox";
export { sizeWords, watched } from "./roundWords";
export { SetAside } from "./SetAside";
export { trialAddress } from "./TrialList";
export { useTrial, type BenchTrial } from "./useTrial";
export { ValuePanel } from "./ValuePanel";

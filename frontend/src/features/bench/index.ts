/** What others use of the bench. */
export { ChoicePanel } from "./ChoicePanel";
export { CorrectPanel } from "./CorrectPanel";
export { changeWords, entryWords } from "./entryWords";
export { pieceWord } from "./kitWords";
export { newId } from "./outbox";
export { roundFigure, sizeWords } from "./roundWords";
export { SetAside } from "./SetAside";
export { trialAddress } from "./TrialList";
export { useTrial, type BenchTrial } from "./useTrial";
export { ValuePanel } from "./ValuePanel";

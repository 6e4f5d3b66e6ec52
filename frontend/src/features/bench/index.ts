/** What others use of the bench. */
export { ChoicePanel } from "./ChoicePanel";
export { ConfirmTest, TestedByItself } from "./ConfirmTest";
export { CorrectPanel } from "./CorrectPanel";
export { changeWords, entryWords } from "./entryWords";
export { benchId } from "./outbox";
export { sizeWords, watched } from "./roundWords";
export { SetAside } from "./SetAside";
export { TrialBench } from "./TrialBench";
export { KeptAhead } from "./KeptAhead";
export { StationsLink } from "./StationsLink";
export { trialAddress } from "./TrialList";
export { useTrial, type BenchTrial } from "./useTrial";
export { ValuePanel } from "./ValuePanel";
export { Ways } from "./Ways";

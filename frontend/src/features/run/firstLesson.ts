/** The lesson to try first: which run it is, and at which of its steps. The browser remembers it till it is left. */
import { useRemembered } from "../../shared/remembered";

interface At {
  run: number;
  step: number;
}

export interface LessonStep {
  page: string;
  title: string;
  says: string;
}

export const LESSON_STEPS: readonly LessonStep[] = [
  {
    page: "brief",
    title: "What the class sees",
    says: "The question, what is agreed, and the set-up to scale. Board, at the top, shows it on the projector.",
  },
  {
    page: "check-in",
    title: "Measure what was built",
    says: "Type the own weight of the first team’s bridge, say 21 g, and check it in. Each field says how to measure.",
  },
  {
    page: "bench",
    title: "Rehearse a test",
    says: "Press “Rehearse”: a made-up structure comes on the bench. It breaks where nobody knows, and counts nowhere.",
  },
  {
    page: "bench",
    title: "Load it",
    says: "Enter puts on what is planned and, after the wait, says that it held. Press “It went” when it goes, and how.",
  },
  {
    page: "compare",
    title: "After real tests: who won, and why",
    says: "Here stand the results, how sure they are, and what was not like with like. Delete the try-out class when you like.",
  },
];

export function useFirstLesson(): [At | null, (run: number | null, step: number) => void] {
  const [at, setAt] = useRemembered<At | null>("first-lesson", null);
  return [at, (run, step) => setAt(run === null ? null : { run, step })];
}

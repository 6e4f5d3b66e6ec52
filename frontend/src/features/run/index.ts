/** What others use of a run. */
export { DesignSpan } from "./DesignSpan";
export { FirstLesson } from "./FirstLesson";
export { useFirstLesson } from "./firstLesson";
export { RunContext, useDesignWrite, useRunState, useTeams } from "./useRunState";

/** What others use of a run. */
export { DesignSpan } from "./DesignSpan";
export { RunContext, useDesignWrite, useRunState, useTeams } from "./useRunState";

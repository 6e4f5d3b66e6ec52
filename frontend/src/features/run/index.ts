/** What others use of a run. */
export { RunContext, useDesignWrite, useRunState, useTeams } from "./useRunState";

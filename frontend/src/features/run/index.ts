/** What others use of a run. */
export { AwayControl } from "./AwayControl";
export { DesignSpan } from "./DesignSpan";
export { RunContext, useDesignWrite, useRunState, useTeams } from "./useRunState";

/** What others use of the planner. */
export { GoalChanges, GoalDialog } from "./GoalDialog";
export { NewRunDialog } from "./NewRunDialog";

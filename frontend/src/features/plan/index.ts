/** What others use of the planner. */
export { FamilyPicker } from "./FamilyPicker";
export { GoalChanges, GoalDialog } from "./GoalDialog";
export { NewRunDialog } from "./NewRunDialog";

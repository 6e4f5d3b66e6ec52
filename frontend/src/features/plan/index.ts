export { NewRunDialog } from "./NewRunDialog";

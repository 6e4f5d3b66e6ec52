/** What others use of deleting and bringing back. */
export { BringBack } from "./BringBack";
export { RemoveButton } from "./RemoveButton";

/** What others use of the board. */
export { BoardControl } from "./BoardControl";
export { useRunStream } from "./useStream";

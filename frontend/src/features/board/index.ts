export { BoardControl } from "./BoardControl";
export { useRunStream } from "./useStream";

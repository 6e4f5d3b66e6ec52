/** What others use of measuring in pictures. */
export { PhotoButton } from "./PhotoButton";

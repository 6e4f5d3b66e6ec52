/** What others use of the comparison. */
export { ChartFrame } from "./ChartFrame";

/** What others use of Compare. */
export { FramedChart } from "./FramedChart";

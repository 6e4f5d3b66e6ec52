/** What others use of measuring in pictures. */
export { CountButton, CountPanel } from "./CountButton";
export type { Eye } from "./eye";
export { FollowButton, Watch } from "./FollowButton";
export { MotionChart } from "./MotionChart";
export { BenchPhotoButton, PhotoButton } from "./PhotoButton";

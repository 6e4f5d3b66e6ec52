/** What others use of measuring in pictures. */
export { CountButton, CountPanel } from "./CountButton";
export { FollowButton } from "./FollowButton";
export { MotionChart } from "./MotionChart";
export { BenchPhotoButton, PhotoButton } from "./PhotoButton";

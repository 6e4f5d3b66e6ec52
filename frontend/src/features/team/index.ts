export { DoorControl } from "./DoorControl";
export { LessonCode } from "./LessonCode";

export { DoorControl } from "./DoorControl";

export { ForceLog } from "./ForceLog";
export { InstrumentButton } from "./InstrumentButton";

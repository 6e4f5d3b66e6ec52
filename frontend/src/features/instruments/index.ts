/** What others use of the instruments. */
export { ForceLog } from "./ForceLog";
export { InstrumentButton } from "./InstrumentButton";
export { TableReading } from "./TableReading";

export * from "./catalogue";
export * from "./counted";
export * from "./faultOf";
export * from "./lengths";
export * from "./moments";
export * from "./reason";
export type { FileFault } from "./en/faults";
export type { Thing, Trace, Tried } from "./en/refusals";

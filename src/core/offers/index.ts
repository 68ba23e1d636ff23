export * from "./items";
export * from "./tax";
export * from "./path";
export * from "./states";
export * from "./requests";

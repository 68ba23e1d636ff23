export * from "./credit";
export * from "./commission";
export * from "./figures";

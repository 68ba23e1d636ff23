export * from "./credit";
export * from "./commission";

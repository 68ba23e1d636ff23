export * from "./person";
export * from "./consent";
export * from "./record";
export * from "./importRows";
export * from "./mergedContact";

export * from "./person";
export * from "./consent";
export * from "./record";
export * from "./importRows";
export * from "./mergedContact";
export * from "./fields";
export * from "./rules";
export * from "./place";

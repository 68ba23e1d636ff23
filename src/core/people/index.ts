export * from "./person";
export * from "./consent";

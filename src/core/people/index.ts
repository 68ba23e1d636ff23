export * from "./person";

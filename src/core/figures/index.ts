export * from "./counted";
export * from "./distinctNames";

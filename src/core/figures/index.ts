export * from "./counted";
export * from "./distinctNames";
export * from "./scope";

export * from "./distinctNames";
export * from "./scope";
export * from "./rate";
export * from "./people";

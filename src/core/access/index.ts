export * from "./permissions";
export * from "./waits";

export * from "./kinds";
export * from "./wording";
export * from "./run";

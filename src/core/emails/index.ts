export * from "./kinds";
export * from "./wording";

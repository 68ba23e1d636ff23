export * from "./stages";
export * from "./kinds";

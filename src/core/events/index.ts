export * from "./stages";
export * from "./kinds";
export * from "./visit";

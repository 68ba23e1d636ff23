export * from "./permissions";

export * from "./team";
export * from "./vendor";

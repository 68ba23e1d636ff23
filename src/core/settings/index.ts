export * from "./team";
export * from "./vendor";
export * from "./retention";

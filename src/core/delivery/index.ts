export * from "./access";
export * from "./owned";

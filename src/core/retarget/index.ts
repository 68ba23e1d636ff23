export * from "./audience";

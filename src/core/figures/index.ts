export * from "./counted";

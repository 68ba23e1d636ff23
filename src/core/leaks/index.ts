export * from "./recovery";

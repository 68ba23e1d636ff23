export * from "./wording";

export * from "./exportFile";

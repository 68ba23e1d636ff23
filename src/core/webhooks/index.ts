export * from "./endpoint";
export * from "./message";
export * from "./retries";

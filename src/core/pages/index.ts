export * from "./content";
export * from "./compiled";

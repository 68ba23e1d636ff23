export * from "./kinds";
export * from "./wording";
export * from "./receipt";
export * from "./run";
export * from "./content/emailContent";
export * from "./content/emailGaps";
export * from "./content/mergeFields";
export * from "./content/usual";
export type * from "./content/emailFacts";

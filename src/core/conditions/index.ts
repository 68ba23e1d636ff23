export * from "./condition";
export * from "./pattern";
export * from "./day";
export * from "./matches";
export * from "./sentence";
export * from "./readSentence";
export * from "./things";
export * from "./rows";

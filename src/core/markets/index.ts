export * from "./readiness";
export * from "./address";

export * from "./readiness";

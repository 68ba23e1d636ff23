export * from "./amount";
export * from "./ledger";

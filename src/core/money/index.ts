export * from "./amount";
export * from "./ledger";
export * from "./figures";
export * from "./byCurrency";

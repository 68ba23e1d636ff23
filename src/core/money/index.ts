export * from "./amount";
export * from "./byCurrency";
export * from "./currency";
export * from "./figures";
export * from "./format";
export * from "./ledger";
export * from "./readAmount";

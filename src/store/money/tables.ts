import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import { at, minor } from "../columns";

/** One movement of money: its postings sum to zero for each currency. */
export const Journal = defineEntity({
  name: "Journal",
  tableName: "journal",
  properties: {
    id: p.uuid().primary(),
    kind: p.text(),
    orderId: p.uuid().nullable(),
    lineId: p.uuid().nullable(),
    at: at(),
    /** The refund or dispute that it books. */
    aboutId: p.uuid().nullable(),
    /** The commission that it books, or takes back. */
    commissionId: p.uuid().nullable(),
  },
});
export const Posting = defineEntity({
  name: "Posting",
  tableName: "posting",
  properties: {
    journalId: p.uuid().primary(),
    position: p.integer().primary(),
    account: p.text(),
    partnerId: p.uuid().nullable(),
    minor: minor(),
    currency: p.text(),
  },
});

export type Journal = InferEntity<typeof Journal>;
export type Posting = InferEntity<typeof Posting>;

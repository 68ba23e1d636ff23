import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import { at } from "../columns";

/** Access to a product that was given without an order. */
export const AccessGrant = defineEntity({
  name: "AccessGrant",
  tableName: "access_grant",
  properties: {
    id: p.uuid().primary(),
    contactId: p.uuid(),
    productId: p.uuid(),
    fromAt: at(),
    /** Null for good. */
    untilAt: at().nullable(),
    reason: p.text(),
    givenAt: at(),
    givenBy: p.uuid().nullable(),
    revokedAt: at().nullable(),
    revokedBy: p.uuid().nullable(),
    revokedBecause: p.text().nullable(),
    /** The file of people that it came with. */
    importId: p.uuid().nullable(),
  },
});

export type AccessGrant = InferEntity<typeof AccessGrant>;

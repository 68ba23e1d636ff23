import { z } from "zod";
import { ownedProduct } from "../core/delivery";
import { fault } from "../core/words";
import { get, post } from "./endpoint";

const reason = z.string().trim().min(1, fault("reason_missing")).max(300);

/** What a person owns or owned, why, and every change; and what can be given to them besides. */
export const readAccess = get("people/[id]/access", {
  answer: z.object({ owned: z.array(ownedProduct), products: z.array(z.object({ id: z.string(), name: z.string() })) }),
});
/** Gives access to a product without an order: for a reason, until a day or for good. */
export const grantAccess = post("people/[id]/access", {
  permission: "access.grant",
  request: z.object({
    /** The press of the form: pressed twice, it is given once. */
    act: z.uuid(),
    product: z.uuid(fault("access_product_missing")),
    /** When it ends; null for good. */
    until: z.coerce.date().nullable(),
    reason,
  }),
});
/** Ends access that was given without an order. */
export const revokeAccess = post("people/[id]/access/[grant]/revoke", { permission: "access.grant", request: z.object({ reason }) });
export type NewGrant = z.input<typeof grantAccess.request>;

import { z } from "zod";
import { ownedProduct } from "../core/delivery";
import { fault, reason } from "../core/words";
import { get, post } from "./endpoint";

/** What a person owns or owned, why, and every change; and what can be given to them besides. */
export const readAccess = get("people/[id]/access", {
  answer: z.object({ owned: z.array(ownedProduct), products: z.array(z.object({ id: z.string(), name: z.string() })) }),
});
/** Gives access to a product without an order: for a reason, until a moment or for good. */
export const grantAccess = post("people/[id]/access", {
  permission: "access.grant",
  request: z.object({
    /** The press of the form: pressed twice, it is given once. */
    act: z.uuid(),
    product: z.uuid(fault("access_product_missing")),
    /** When it ends; null for good. */
    until: z.coerce.date(fault("access_until_missing")).nullable(),
    reason,
  }),
});
/** Ends access that was given without an order. */
export const revokeAccess = post("people/[id]/access/[grant]/revoke", { permission: "access.grant", request: z.object({ reason }) });

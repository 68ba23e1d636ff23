import { z } from "zod";
import { country, email, firstName } from "../people";

/** The first step of a checkout: who is buying, and where they live for the tax. */
export const checkoutStart = z.object({ email, firstName, country });
export type CheckoutStart = z.infer<typeof checkoutStart>;

/** The second step: a card token from the card processor's own frame. */
export const checkoutPay = checkoutStart.extend({
  checkout: z.uuid("This checkout is not known. Start it again."),
  /** The total in minor units that the buyer was shown; another one is not charged. */
  shown: z.coerce.number().int().optional(),
  cardToken: z.string().regex(/^tok_[A-Za-z0-9]{10,64}$/, "Fill in the card first."),
});
export type CheckoutPay = z.infer<typeof checkoutPay>;

/** A bump is ticked, or not any more. */
export const bumpTick = z.object({
  checkout: z.uuid("This checkout is not known. Start it again."),
  product: z.uuid(),
  tick: z.literal("yes").optional(),
});
export type BumpTick = z.infer<typeof bumpTick>;

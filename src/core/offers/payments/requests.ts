import { fault } from "../../words";
import { z } from "zod";
import { country, email, firstName } from "../../people";
import { vatNumber } from "../price/evidence";

const buyer = z.object({ email, firstName, country });

/** The first step of a checkout: who is buying, where they live for the tax, and for which business, if for one. */
export const checkoutStart = buyer
  .extend({ vatNumber: z.string().trim().max(20).default(""), region: z.string().max(3).optional() })
  .transform((typed, context) => {
    const known = typed.vatNumber === "" ? undefined : vatNumber(typed.vatNumber, typed.country);
    if (typed.vatNumber !== "" && !known)
      context.addIssue({
        code: "custom",
        path: ["vatNumber"],
        message: fault("vat_number"),
      });
    return { ...typed, vatNumber: known };
  });
export type CheckoutStart = Omit<z.infer<typeof checkoutStart>, "vatNumber"> & { vatNumber?: string };

/** What stands for the card that this browser paid with before, and for no card where nothing is to be paid. */
export const storedCard = "stored";
export const withoutCard = "none";

/** The second step: a card token from the card processor's own frame, and what the buyer agrees to. */
export const checkoutPay = buyer.extend({
  checkout: z.uuid(fault("checkout_unknown")),
  /** The total in minor units that the buyer was shown; another one is not charged. */
  shown: z.coerce.number().int().optional(),
  cardToken: z.string().regex(/^(tok_[A-Za-z0-9]{10,64}|stored|none)$/, fault("card_missing")),
  waiver: z.literal("yes").optional(),
  terms: z.literal("yes").optional(),
});
export type CheckoutPay = z.infer<typeof checkoutPay>;

const aCheckout = z.union([z.uuid(), z.literal("")], { error: fault("checkout_unknown") });

/** A code typed at the checkout; empty takes it out again. An empty checkout is one that this press begins. */
export const couponEntry = z.object({ checkout: aCheckout, code: z.string().trim().max(40) });
export type CouponEntry = z.infer<typeof couponEntry>;

/** A bump is ticked, or not any more. */
export const bumpTick = z.object({ checkout: aCheckout, product: z.uuid(), tick: z.literal("yes").optional() });
export type BumpTick = z.infer<typeof bumpTick>;

/** An order that was paid outside the checkout: who bought what, and how it was paid. */
export const handOrder = buyer.extend({
  /** Made by the form: a second press of the same form is the same order. */
  act: z.uuid(),
  launch: z.string().min(1, fault("choose_launch")),
  product: z.uuid(fault("choose_product")),
  quantity: z.coerce.number().int().min(1).max(10_000),
  /** What was paid in all, tax included, as typed. */
  amount: z.string().trim().min(1, fault("paid_missing")),
  how: z.string().trim().min(1, fault("paid_how_missing")).max(120),
  receipt: z.boolean(),
});
export type HandOrder = z.infer<typeof handOrder>;

/** How many, for how much where the buyer names the price, and in which currency. */
export const checkoutChoice = z.object({
  checkout: aCheckout,
  quantity: z.coerce.number().int().min(1).max(10_000).optional(),
  named: z.string().trim().max(20).optional(),
  currency: z.string().length(3).optional(),
  region: z.string().max(3).optional(),
});
export type CheckoutChoice = z.infer<typeof checkoutChoice>;

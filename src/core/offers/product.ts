import { z } from "zod";
import { taxClasses } from "./taxRates";

/** What a product is. */
export const productKinds = ["download", "library", "service", "shipped", "bundle"] as const;
export type ProductKind = (typeof productKinds)[number];
export const productKindWords: Record<ProductKind, string> = {
  download: "a file to download",
  library: "access to the library",
  service: "a service",
  shipped: "something that is sent",
  bundle: "several products together",
};

const share = z.number().min(0).max(1);
/** What a vendor assumes of a path where nothing was measured yet. Shares from 0 to 1. */
export const assumptions = z.object({
  /** Take rates by the id of a step, or of a bump's product. */
  take: z.record(z.string(), share).default({}),
  /** Expected payments of what is paid again and again, by product. */
  payments: z.record(z.string(), z.number().min(1).max(120)).default({}),
  /** Visitors of the sales page who buy. */
  conversion: share.optional(),
  /** Sales that are given back. */
  refunds: share.default(0.05),
  /** The processor's fee: a share of the gross in basis points and minor units for each charge. */
  feeBp: z.number().int().min(0).max(2_000).default(150),
  feeFixed: z.number().int().min(0).max(1_000).default(25),
  /** The partners' share of the net over all orders. */
  commission: share.optional(),
});
export type Assumptions = Partial<z.infer<typeof assumptions>>;

/** Take rates to begin with (common practice, no source). */
export const usualTake = { bump: 0.3, offer: 0.2, downsell: 0.15 } as const;

const words = (most: number) => z.string().trim().max(most, `${most} characters at most.`);
const count = z.number().int("A whole number, please.").min(1, "One at least.").max(1_000_000, "A million at most.").nullable();

/** A product as the desk saves it. The price is typed text, read in the product's currency. */
export const productRequest = z.object({
  name: words(120).min(1, "The name a buyer reads on the receipt."),
  privateLabel: words(120),
  description: words(2_000),
  kind: z.enum(productKinds),
  taxClass: z.enum(taxClasses),
  taxMode: z.enum(["inclusive", "exclusive"]),
  price: z.string(),
  refundDays: z.number().int("Whole days, please.").min(0, "Not below zero.").max(365, "365 days at most."),
  alone: z.boolean(),
  onSale: z.boolean(),
  limitPerPerson: count,
  seats: count,
});
export type ProductRequest = z.infer<typeof productRequest>;

/** A product as the desk lists it. */
export interface ProductRow extends Omit<ProductRequest, "price"> {
  id: string;
  priceMinor: number;
  currency: string;
  sold: number;
  grossMinor: number;
  /** Where it is sold, in words. */
  uses: string[];
}

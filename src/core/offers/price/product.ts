import { fault } from "../../words";
import { z } from "zod";
import { currencies, multiplyRounded, wholeUnits } from "../../money";
import { dueOf, priceTerms, type Choice, type Due, type PriceTerms } from "./price";
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

/** When the card is charged for a product. */
export const chargeTimes = ["at_once", "when_sent"] as const;
export type ChargeTime = (typeof chargeTimes)[number];

/** True where the money is only held on the card until the goods are sent. */
export const waitsForFulfilment = ({ kind, chargeWhen }: { kind: ProductKind; chargeWhen: ChargeTime }): boolean =>
  kind === "shipped" && chargeWhen === "when_sent";

/** What a product costs in other currencies than its own: minor units by ISO 4217 code. */
export type Prices = Record<string, number | undefined>;

/** A product as it is priced. */
export interface Priced {
  priceMinor: number;
  currency: string;
  terms: PriceTerms;
  prices: Prices;
}

/**
 * The terms of a product in another currency: amounts beside the price stand to it as they do in the product's own,
 * where none was given. Undefined where the product is free: nothing says what such an amount is there.
 */
const termsIn = ({ priceMinor, terms }: Pick<Priced, "priceMinor" | "terms">, currency: string, minor: number): PriceTerms | undefined => {
  const given = "elsewhere" in terms ? terms.elsewhere?.[currency] : undefined;
  const by = (amount: number) => multiplyRounded(amount, minor, priceMinor);
  const beside = (own: number): number | undefined => given ?? (own === 0 ? 0 : priceMinor > 0 ? by(own) : undefined);
  switch (terms.kind) {
    case "open": {
      const floor = beside(terms.floor);
      return floor === undefined ? undefined : { ...terms, floor };
    }
    case "shipped": {
      const shipping = beside(terms.shipping);
      return shipping === undefined ? undefined : { ...terms, shipping };
    }
    case "subscription":
      return { ...terms, setup: by(terms.setup) };
    case "tiers":
      return { ...terms, tiers: terms.tiers.map((tier) => ({ ...tier, minor: by(tier.minor) })) };
    case "once":
    case "instalments":
      return terms;
  }
};

/** The price of a product in a currency, and its terms there. Undefined where it cannot be bought in it. */
export const priceIn = (product: Priced, currency: string): { minor: number; terms: PriceTerms } | undefined => {
  const { priceMinor, terms, prices } = product;
  if (currency === product.currency) return { minor: priceMinor, terms };
  const minor = prices[currency];
  const there = minor === undefined ? undefined : termsIn(product, currency, minor);
  return minor === undefined || !there ? undefined : { minor, terms: there };
};

/** Currencies in which a product can be bought, its own first. */
export const currenciesOf = (product: Priced): string[] => [
  product.currency,
  ...currencies.filter((code) => code !== product.currency && priceIn(product, code) !== undefined),
];

/** Currencies in which a product has a price, but cannot be bought for want of the amount beside it: what sending costs, or the least. */
export const currenciesWithout = (product: Priced): string[] =>
  currencies.filter((code) => code !== product.currency && product.prices[code] !== undefined && priceIn(product, code) === undefined);

/** What is due for a product in a currency, at another price of its own where one holds (`at`, in its own currency). */
export const dueIn = (product: Priced, currency: string, choice: Choice = {}, at = product.priceMinor): Due | undefined => {
  const found = priceIn(product, currency);
  if (!found) return undefined;
  const own = currency === product.currency;
  const minor =
    at === product.priceMinor
      ? found.minor
      : own
        ? at
        : product.priceMinor === 0
          ? found.minor
          : multiplyRounded(found.minor, at, product.priceMinor);
  return dueOf(found.terms, minor, choice);
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
  feeFixed: z.number().int().min(0).max(1_000).optional(),
  /** The partners' share of the net over all orders. */
  commission: share.optional(),
});
export type Assumptions = Partial<z.infer<typeof assumptions>>;

/** A processor's fixed fee for each charge, in minor units of the currency, where a vendor has not said theirs (common practice, no source). */
export const usualFixedFee = (currency: string): number => fixedFees[currency] ?? multiplyRounded(wholeUnits(1, currency), 1, 4);
const fixedFees: Record<string, number | undefined> = { EUR: 25, USD: 30, GBP: 20, CHF: 30, JPY: 30, KWD: 75 };

/** Take rates to begin with (common practice, no source). */
export const usualTake = { bump: 0.3, offer: 0.2, downsell: 0.15 } as const;

const words = (most: number) => z.string().trim().max(most, `${most} characters at most.`);
const count = z.number().int().min(1).max(1_000_000).nullable();

/** A product as the desk saves it. The price is typed text, read in the product's currency. */
export const productRequest = z.object({
  /** The version that was changed: what somebody else has saved since is not overwritten. */
  version: z.number().int().positive(),
  name: words(120).min(1, fault("product_name_missing")),
  privateLabel: words(120),
  description: words(2_000),
  kind: z.enum(productKinds),
  taxClass: z.enum(taxClasses),
  taxMode: z.enum(["inclusive", "exclusive"]),
  price: z.string(),
  refundDays: z.number().int().min(0).max(365),
  alone: z.boolean(),
  onSale: z.boolean(),
  /** Whether its buyers get access at once, by a way of the vendor's own: nothing is delivered by itself yet. */
  accessAtOnce: z.boolean(),
  limitPerPerson: count,
  seats: count,
  chargeWhen: z.enum(chargeTimes),
  /** What a bundle holds; nothing of any other kind. */
  contents: z.array(z.uuid()).max(30, "30 products at most."),
  terms: priceTerms,
  /** What it costs in other currencies, as typed; empty where it is not sold in one. */
  prices: z.record(z.string(), z.string()),
  mediaId: z.uuid().nullable(),
});
export type ProductRequest = z.infer<typeof productRequest>;

/** A product as the desk lists it. */
export const productRow = productRequest.omit({ price: true, prices: true }).extend({
  id: z.string(),
  prices: z.record(z.string(), z.number().optional()),
  priceMinor: z.number(),
  currency: z.string(),
  sold: z.number(),
  grossMinor: z.number(),
  /** Where it is sold, in words. */
  uses: z.array(z.string()),
});
export type ProductRow = z.infer<typeof productRow>;

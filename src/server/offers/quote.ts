import { priceAt } from "../../core/launch";
import { couponWords, discountsOf, isReverseCharge, rateAt, reverseCharged, taxed, type LineRole, type TaxedAmount } from "../../core/offers";
import type { Checkout, Product } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import type { Config } from "../app/config";
import type { LaunchBundle } from "../launch/bundle";
import { judgeCoupon } from "./coupons";
import { soldOutFor } from "./limits";
import { countersOf } from "./soldCounters";

/** What a price with its tax is made from. */
type Pricing = Pick<Product, "priceMinor" | "taxMode" | "taxClass">;

/** The main product at the price that holds at an instant. */
export const mainProductAt = async (em: EntityManager, bundle: LaunchBundle, at: Date): Promise<Pricing> => ({
  taxMode: bundle.product.taxMode,
  taxClass: bundle.product.taxClass,
  priceMinor: priceAt(bundle.plan, at, await countersOf(em, bundle)).minor,
});

export interface QuotedLine {
  product: Product;
  role: LineRole;
  amount: TaxedAmount;
  /** What a coupon took off it, before tax. */
  discount: number;
}

/** The bumps of a checkout that this person may still buy. */
export const openBumps = async (em: EntityManager, { bumps }: LaunchBundle, personId: string): Promise<LaunchBundle["bumps"]> => {
  const out = await soldOutFor(
    em,
    personId,
    bumps.map(({ product }) => product),
  );
  return bumps.filter(({ product }) => !out.has(product.id));
};

/** What is asked of a checkout to quote it. */
export interface QuotedCheckout extends Place {
  id: string;
  personId: string;
  bumps: readonly string[];
  coupon?: string | null;
}
export interface CheckoutQuote {
  lines: QuotedLine[];
  /** The coupon that is taken off, or why the code that was given does not hold. */
  coupon?: { id: string; code: string };
  refusal?: string;
}

/**
 * The lines of a checkout at an instant: the main product, and the bumps that are ticked and can still be had; less what
 * a coupon takes off, and then taxed.
 */
export const checkoutLines = async (em: EntityManager, bundle: LaunchBundle, checkout: QuotedCheckout, at: Date): Promise<CheckoutQuote> => {
  const { bumps, personId, coupon: code } = checkout;
  const chosen: { product: Product; role: LineRole; pricing: Pricing }[] = [
    { product: bundle.product, role: "front", pricing: await mainProductAt(em, bundle, at) },
  ];
  for (const { product } of await openBumps(em, bundle, personId))
    if (bumps.includes(product.id) && !chosen.some((line) => line.product.id === product.id))
      chosen.push({ product, role: "bump", pricing: product });
  const { currency } = bundle.product;
  const priced = chosen.map(({ product, pricing }) => ({ productId: product.id, minor: pricing.priceMinor }));
  const judged = code ? await judgeCoupon(em, code, checkout, { at, currency, products: priced.map(({ productId }) => productId) }) : undefined;
  const known = judged && "known" in judged ? judged.known : undefined;
  const discounts = known ? discountsOf(known.coupon, priced, currency) : priced.map(() => 0);
  // An order of nothing cannot be charged: such a code is refused as a whole.
  const left = priced.reduce((sum, { minor }, index) => sum + minor - discounts[index]!, 0);
  const taken = left > 0 ? discounts : priced.map(() => 0);
  const lines = await Promise.all(
    chosen.map(async ({ product, role, pricing }, index) => ({
      ...{ product, role, discount: taken[index]! },
      amount: await quote(em, { ...taxesOf(pricing), priceMinor: pricing.priceMinor - taken[index]! }, checkout, at),
    })),
  );
  const refusal = known && left <= 0 ? "nothing_left" : judged && "refusal" in judged ? judged.refusal : undefined;
  return {
    lines,
    ...(known && left > 0 ? { coupon: { id: known.id, code: known.code } } : {}),
    ...(refusal ? { refusal: couponWords[refusal] } : {}),
  };
};
const taxesOf = ({ taxMode, taxClass }: Pricing) => ({ taxMode, taxClass });

/** Whether the business that buys accounts for the tax itself. */
export const reverseChargeOf = (
  { config }: { config: Pick<Config, "INKBELL_VENDOR_COUNTRY"> },
  { vatNumber, country }: Pick<Checkout, "vatNumber" | "country">,
): boolean => isReverseCharge(vatNumber ?? undefined, country ?? "", config.INKBELL_VENDOR_COUNTRY);

/** Where a buyer is, and whether they account for the tax themselves. */
export interface Place {
  country: string;
  reverse?: boolean;
}

/** What a product costs a buyer on a day, tax included or added as the product says. */
export const quote = async (em: EntityManager, product: Pricing, { country, reverse = false }: Place, at: Date): Promise<TaxedAmount> => {
  const rows = await em.execute<{ rate_bp: number; from_day: string }[]>(
    "select rate_bp, from_day::text from tax_rate where country = ? and tax_class = ?",
    [country, product.taxClass],
  );
  const table = rows.map((row) => ({ country, taxClass: product.taxClass, rateBp: row.rate_bp, from: new Date(row.from_day) }));
  const amount = taxed(product.priceMinor, product.taxMode, rateAt(table, country, product.taxClass, at));
  return reverse ? reverseCharged(amount) : amount;
};

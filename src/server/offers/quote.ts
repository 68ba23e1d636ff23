import { taxRatesOf } from "../../store/products/taxRates";
import { askedPrices } from "../../store/products/askedPrices";
import { priceAt } from "../../core/launch";
import {
  type CouponRefusal,
  currenciesOf,
  discountsOf,
  dueIn,
  dueOf,
  isReverseCharge,
  leastFor,
  priceIn,
  rateAt,
  reverseCharged,
  strikable,
  taxed,
  type Due,
  type LineRole,
  type ProductKind,
  type TaxedAmount,
} from "../../core/offers";
import { Product, type Checkout } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import type { App } from "../platform";
import type { LaunchContext } from "../launch";
import { judgeCoupon } from "../products";
import { soldOutFor } from "./availability";
import { countersOf } from "./soldCounters";

/** The main product's price at an instant, in its own currency. */
export const mainPriceAt = async (em: EntityManager, context: LaunchContext, at: Date): Promise<number> =>
  priceAt(context.plan, at, context.plan.settings.rising ? await countersOf(em, context) : { sold: 0 }).minor;

export interface QuotedLine {
  product: Product;
  /** What it holds, where it is a bundle. */
  parts: Product[];
  role: LineRole;
  amount: TaxedAmount;
  /** What a coupon took off it, before tax. */
  discount: number;
  /** What would be charged now without the coupon. */
  before?: TaxedAmount;
  quantity: number;
  /** What is charged again by itself: as the product prices it, and with the tax of this day. */
  recurring?: { due: NonNullable<Due["later"]>; amount: TaxedAmount };
}

/** The products that some hold, each by its id in the order of their bundle. */
const partsOf = async (em: EntityManager, products: readonly Product[]): Promise<(whole: Product) => Product[]> => {
  const ids = [...new Set(products.flatMap(({ contents }) => contents))];
  const found = new Map(ids.length > 0 ? (await em.find(Product, { id: { $in: ids } })).map((part) => [part.id, part]) : []);
  return ({ contents }) => contents.flatMap((id) => found.get(id) ?? []);
};

/** What kinds of goods these lines give access to at once; a bundle gives those that it holds. */
export const kindsAtOnce = (lines: readonly Pick<QuotedLine, "product" | "parts">[]): ProductKind[] =>
  lines.flatMap(({ product, parts }) => [product, ...parts].filter(({ accessAtOnce }) => accessAtOnce).map(({ kind }) => kind));

/** The bumps of a checkout that this person may still buy. */
export const openBumps = async (em: EntityManager, { bumps }: LaunchContext, personId: string): Promise<LaunchContext["bumps"]> => {
  const out = await soldOutFor(
    em,
    personId,
    bumps.map(({ product }) => product),
  );
  return bumps.filter(({ product }) => !out.has(product.id));
};

/** What is in an order beside its main product: bumps that are ticked, then what was added on the way to the checkout. */
const addable = async (
  em: EntityManager,
  context: LaunchContext,
  personId: string,
  chosen: readonly string[],
): Promise<{ product: Product; role: LineRole }[]> => {
  if (chosen.length === 0) return [];
  const ticked = (await openBumps(em, context, personId)).filter(({ product }) => chosen.includes(product.id));
  const pressed = context.additions.filter(({ id }) => chosen.includes(id));
  const out = await soldOutFor(em, personId, pressed);
  return [
    ...ticked.map(({ product }) => ({ product, role: "bump" as const })),
    ...pressed.filter(({ id }) => !out.has(id)).map((product) => ({ product, role: "offer" as const })),
  ];
};

/** What is asked of a checkout to quote it. */
export interface QuotedCheckout extends Place {
  id: string;
  personId: string;
  bumps: readonly string[];
  coupon?: string | null;
  quantity?: number;
  namedMinor?: number | null;
  currency?: string | null;
  productId?: string | null;
  priceHoldMinor?: number | null;
  priceHoldUntil?: Date | null;
}
export interface CheckoutQuote {
  currency: string;
  /** Currencies in which this can be paid. */
  currencies: string[];
  lines: QuotedLine[];
  /** The coupon that is taken off, or why the code that was given does not hold. */
  coupon?: { id: string; code: string };
  refusal?: CouponRefusal | "unknown";
  /** Until when the price is held for this buyer, where it has risen meanwhile or may. */
  priceHoldUntil?: Date;
  /** The least that may be named, and what is named or proposed, where the buyer names the price. */
  named?: { least: number; minor: number };
}

/** What a checkout sells: the launch's main product, or an offer by itself. */
export const soldBy = async (em: EntityManager, context: LaunchContext, { productId }: { productId?: string | null }): Promise<Product> =>
  productId && productId !== context.product.id
    ? (context.products.get(productId) ?? (await em.findOneOrFail(Product, { id: productId })))
    : context.product;

interface Chosen {
  product: Product;
  role: LineRole;
  quantity: number;
  /** Before a coupon. What it covers is the whole of a price that is paid in parts. */
  whole: number;
  due: (whole: number) => Due;
}

const chosenOf = (
  product: Product,
  role: LineRole,
  currency: string,
  choice: { quantity: number; named?: number },
  at?: number,
): Chosen | undefined => {
  const found = priceIn(product, currency);
  const due = dueIn(product, currency, choice, at);
  if (!found || !due) return undefined;
  if (found.terms.kind !== "instalments")
    return { product, role, quantity: choice.quantity, whole: due.price, due: (whole) => ({ ...due, price: whole }) };
  const { terms } = found;
  const all = due.price + due.later!.minor * due.later!.times!;
  return { product, role, quantity: choice.quantity, whole: all, due: (whole) => dueOf(terms, whole) };
};

/**
 * The lines of a checkout at an instant: the main product, and the bumps that are ticked and can still be had; less what
 * a coupon takes off, and then taxed. Sending something is a line of its own.
 */
export const checkoutLines = async (em: EntityManager, context: LaunchContext, checkout: QuotedCheckout, at: Date): Promise<CheckoutQuote> => {
  const { bumps, personId, coupon: code, quantity = 1, priceHoldMinor, priceHoldUntil } = checkout;
  const product = await soldBy(em, context, checkout);
  const main = product.id === context.product.id;
  const currencies = currenciesOf(product);
  const currency = checkout.currency && currencies.includes(checkout.currency) ? checkout.currency : product.currency;
  const price = main ? await mainPriceAt(em, context, at) : product.priceMinor;
  // A price that was shown holds for a while; one that has fallen since falls for this buyer too.
  const held = priceHoldMinor != null && priceHoldUntil && priceHoldUntil > at && main ? Math.min(priceHoldMinor, price) : price;
  const terms = priceIn(product, currency)!.terms;
  const least = leastFor(terms);
  const proposed = dueIn(product, currency, {}, held)!.price;
  const named = terms.kind === "open" ? Math.max(least, checkout.namedMinor ?? proposed) : undefined;
  const chosen = [chosenOf(product, main ? "front" : "offer", currency, { quantity, named }, held)!];
  const added = main ? await addable(em, context, personId, bumps) : [];
  for (const { product: more, role } of added) {
    const line = more.id === product.id ? undefined : chosenOf(more, role, currency, { quantity: 1 });
    if (line && !chosen.some((one) => one.product.id === more.id)) chosen.push(line);
  }
  const priced = chosen.map(({ product: { id }, whole }) => ({ productId: id, minor: whole }));
  const judged = code ? await judgeCoupon(em, code, checkout, { at, currency, products: priced.map(({ productId }) => productId) }) : undefined;
  const known = judged && "known" in judged ? judged.known : undefined;
  const discounts = known ? discountsOf(known.coupon, priced, currency) : priced.map(() => 0);
  const rates = await ratesFor(em, checkout, at);
  const parts = await partsOf(
    em,
    chosen.map((one) => one.product),
  );
  const lines = chosen.flatMap((one, index): QuotedLine[] => {
    const discount = discounts[index]!;
    const due = one.due(one.whole - discount);
    const tax = (minor: number, taxClass = one.product.taxClass) => rates(minor, one.product.taxMode, taxClass);
    const recurring = due.later && (due.later.times === null || due.later.times > 0) ? { due: due.later, amount: tax(due.later.minor) } : undefined;
    const line: QuotedLine = {
      product: one.product,
      parts: parts(one.product),
      role: one.role,
      quantity: one.quantity,
      discount,
      amount: tax(due.price),
      ...(discount > 0 ? { before: tax(one.due(one.whole).price) } : {}),
      ...(recurring ? { recurring } : {}),
    };
    const sent: QuotedLine[] =
      due.shipping > 0
        ? [{ product: one.product, parts: [], role: "shipping", quantity: 1, discount: 0, amount: tax(due.shipping, "shipping") }]
        : [];
    return [line, ...sent];
  });
  const refusal = judged && "refusal" in judged ? judged.refusal : undefined;
  return {
    currency,
    currencies,
    lines,
    ...(known ? { coupon: { id: known.id, code: known.code } } : {}),
    ...(refusal ? { refusal } : {}),
    ...(priceHoldUntil && priceHoldUntil > at && main ? { priceHoldUntil } : {}),
    ...(named !== undefined ? { named: { least, minor: named } } : {}),
  };
};

/** Whether the business that buys accounts for the tax itself. */
export const reverseChargeOf = ({ vendor }: Pick<App, "vendor">, { vatNumber, country }: Pick<Checkout, "vatNumber" | "country">): boolean =>
  isReverseCharge(vatNumber ?? undefined, country ?? "", vendor.country);

/** Where a buyer is, and whether they account for the tax themselves. */
export interface Place {
  country: string;
  region?: string;
  reverse?: boolean;
}

/** Taxes amounts as the table says for a place and a day. */
export const ratesFor = async (
  em: EntityManager,
  { country, region = "", reverse = false }: Place,
  at: Date,
): Promise<(minor: number, mode: Product["taxMode"], taxClass: string) => TaxedAmount> => {
  const rows = await taxRatesOf(em, country);
  const table = rows.map((row) => ({ country, region: row.region, taxClass: row.tax_class, rateBp: row.rate_bp, from: new Date(row.from_day) }));
  return (minor, mode, asked) => {
    // Where the table says nothing of sending, it is taxed like most things.
    const taxClass = asked === "shipping" && !table.some((row) => row.taxClass === asked) ? "standard" : asked;
    const amount = taxed(minor, mode, rateAt(table, country, taxClass, at, region));
    return reverse ? reverseCharged(amount) : amount;
  };
};

/** What a product's own price costs a buyer on a day, tax included or added as the product says, in a currency of the order. */
export const quote = async (
  em: EntityManager,
  product: Pick<Product, "priceMinor" | "taxMode" | "taxClass"> & Partial<Pick<Product, "currency" | "prices" | "terms">>,
  place: Place,
  at: Date,
): Promise<TaxedAmount> => (await ratesFor(em, place, at))(product.priceMinor, product.taxMode, product.taxClass);

/** What an offer of a product comes to in an order: what is charged now with its tax, what sending it costs, and what comes later. */
export const offerLines = async (em: EntityManager, product: Product, currency: string, place: Place, at: Date): Promise<QuotedLine[]> => {
  const rates = await ratesFor(em, place, at);
  const due = dueIn(product, currency);
  if (!due) return [];
  const tax = (minor: number, taxClass = product.taxClass) => rates(minor, product.taxMode, taxClass);
  const line: QuotedLine = {
    product,
    parts: (await partsOf(em, [product]))(product),
    role: "offer",
    quantity: 1,
    discount: 0,
    amount: tax(due.price),
    ...(due.later ? { recurring: { due: due.later, amount: tax(due.later.minor) } } : {}),
  };
  return [
    line,
    ...(due.shipping > 0 ? [{ product, parts: [], role: "shipping" as const, quantity: 1, discount: 0, amount: tax(due.shipping, "shipping") }] : []),
  ];
};

/** The price that may be struck through beside a product's own, in its own currency: what was asked before (Directive 98/6/EC, art. 6a). */
export const wasPrice = async (em: EntityManager, product: Pick<Product, "id" | "terms">, at: Date): Promise<number | undefined> =>
  product.terms.kind === "once" ? strikable((await askedPrices(em, [product.id])).get(product.id) ?? [], at) : undefined;

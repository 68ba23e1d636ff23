import { type Fault } from "../../core/words";
import type { FigureScope } from "../../core/figures";
import { noteAskedPrice } from "../../store/products/askedPrices";
import { Refusal, deskLocale, mustBeAllowed, required, typedAmount, wrongField } from "../platform";
import { LockMode } from "@mikro-orm/core";
import { randomUUID } from "node:crypto";
import { distinctNames } from "../../core/figures";
import { currencies, formatMoney, type Locale } from "../../core/money";
import { currenciesWithout, mayBeFree, priceWords, type Prices, type PriceTerms, type ProductRequest, type ProductRow } from "../../core/offers";
import { Launch, Media, Page, Product, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { productFigures } from "../../store/products/productFigures";
import { launchChanged, type LaunchContext, loadLaunch } from "../launch";
import type { SmallProduct } from "../../contract/products";

/** A product as the desk's panes name it; the price in words. */
export interface SoldProduct {
  id: string;
  name: string;
  price: string;
}
const named = ({ id, name, priceMinor, currency, terms }: Product): SoldProduct => ({ id, name, price: priceWords(terms, priceMinor, currency) });

/** Notes a price from now on asked. Prices that were never asked are never struck through. */
export const noteAsked = (tx: EntityManager, { id, currency, priceMinor }: Product, now: Date): Promise<void> =>
  noteAskedPrice(tx, id, currency, priceMinor, now);

/** What was typed as a price, in minor units; refused at its field where it is none. Nothing costs nothing but where something else is paid. */
const priceOf = (
  typed: string,
  currency: string,
  locale: Locale,
  { field = "price", kind = "once" }: { field?: string; kind?: PriceTerms["kind"] } = {},
): number => {
  const refuse = (fault: Fault) => wrongField("nothing_changed", field, fault);
  const minor = typedAmount(typed, currency, locale, refuse);
  if (minor === 0 && !mayBeFree(kind)) throw refuse({ code: "above_zero", currency });
  return minor;
};

/** What was typed as the prices in other currencies. */
const pricesOf = (typed: Record<string, string>, own: string, locale: Locale, kind: PriceTerms["kind"]): Prices =>
  Object.fromEntries(
    Object.entries(typed)
      .filter(([code, text]) => code !== own && currencies.includes(code) && text.trim() !== "")
      .map(([code, text]) => [code, priceOf(text, code, locale, { field: `prices.${code}`, kind })]),
  );

/** Makes a product in the currency, tax mode and refund time of another. Nothing is sold before a page that offers it is published. */
export const makeProduct = async (
  em: EntityManager,
  like: Pick<Product, "currency" | "taxMode" | "taxClass" | "refundDays">,
  { name, price, label }: { name: string; price: string; label: string },
  now: Date,
): Promise<Product> => {
  const { currency, taxMode, taxClass, refundDays } = like;
  const product = em.create(Product, {
    id: randomUUID(),
    name,
    privateLabel: label,
    taxClass,
    description: "",
    refundDays,
    currency,
    taxMode,
    priceMinor: priceOf(price, currency, await deskLocale(em)),
  });
  await em.persist(product).flush();
  await noteAsked(em, product, now);
  return product;
};

/** Gives a product that was not sold yet its name and its first price. */
export const priceFirst = async (tx: EntityManager, product: Product, { name, price }: SmallProduct, now: Date): Promise<void> => {
  Object.assign(product, {
    name,
    privateLabel: name,
    onSale: true,
    priceMinor: priceOf(price, product.currency, await deskLocale(tx)),
    rowVersion: product.rowVersion + 1,
  });
  await tx.flush();
  await noteAsked(tx, product, now);
};

/** Products that a bump of a launch may add: those of its currency, but for what it sells already. */
export const bumpProducts = async (em: EntityManager, { product }: LaunchContext): Promise<SoldProduct[]> =>
  (await em.find(Product, { currency: product.currency, id: { $ne: product.id } }, { orderBy: { name: 1 } })).map(named);

/** Makes a small product for a bump of a checkout. */
export const makeBumpProduct = async (em: EntityManager, user: DeskUser, pageId: string, request: SmallProduct, now: Date): Promise<SoldProduct> => {
  mustBeAllowed(user, "product.edit");
  const page = required(await em.findOne(Page, { id: pageId, kind: "checkout" }), "checkout_page");
  const context = required(await loadLaunch(em, { id: page.launchId }), "launch");
  return em.transactional(async (tx) => named(await makeProduct(tx, context.product, { ...request, label: "Order bump" }, now)));
};

/** What a bundle may hold: products there are, itself and other bundles apart. */
const contentsOf = async (em: EntityManager, id: string, asked: readonly string[]): Promise<string[]> => {
  const ids = [...new Set(asked)];
  const known = await em.find(Product, { id: { $in: ids }, kind: { $ne: "bundle" } });
  if (ids.includes(id) || known.length < ids.length) throw wrongField("nothing_changed", "contents", { code: "nested_bundle" });
  return ids;
};

/** Saves a product. Orders keep what they were sold as; pages show the new words and price from now on. */
export const saveProduct = async (
  em: EntityManager,
  user: DeskUser,
  id: string,
  request: ProductRequest,
  now: Date,
): Promise<{ version: number; priceMinor: number; prices: Prices }> => {
  mustBeAllowed(user, "product.edit");
  return em.transactional(async (tx) => {
    const product = required(await tx.findOne(Product, { id }, { lockMode: LockMode.PESSIMISTIC_WRITE }), "product");
    const { price, prices, version, ...rest } = request;
    if (version !== product.rowVersion) throw new Refusal({ code: "changed_meanwhile", what: "product" });
    const { kind } = request.terms;
    const locale = await deskLocale(tx);
    const priceMinor = priceOf(price, product.currency, locale, { kind });
    const dearer = priceMinor !== product.priceMinor;
    if (rest.mediaId) required(await tx.findOne(Media, { id: rest.mediaId, kind: "picture" }), "picture");
    const contents = rest.kind === "bundle" ? await contentsOf(tx, id, rest.contents) : [];
    Object.assign(product, rest, { contents, priceMinor, prices: pricesOf(prices, product.currency, locale, kind), rowVersion: version + 1 });
    mustBePriced(product);
    await tx.flush();
    if (dearer) await noteAsked(tx, product, now);
    await launchChanged(tx);
    return { version: product.rowVersion, priceMinor, prices: product.prices };
  });
};

/** Gives a product another picture, or none. */
export const setPicture = async (em: EntityManager, user: DeskUser, id: string, mediaId: string | null): Promise<void> => {
  mustBeAllowed(user, "product.edit");
  await em.transactional(async (tx) => {
    const product = required(await tx.findOne(Product, { id }, { lockMode: LockMode.PESSIMISTIC_WRITE }), "product");
    product.rowVersion += 1;
    if (mediaId) required(await tx.findOne(Media, { id: mediaId, kind: "picture" }), "picture");
    product.mediaId = mediaId;
    await tx.flush();
    await launchChanged(tx);
  });
};

/** Refuses a product that has a price in a currency in which nothing says what stands beside it. */
const mustBePriced = (product: Product): void => {
  const [without] = currenciesWithout(product);
  if (without) throw wrongField("nothing_changed", `terms.elsewhere.${without}`, { code: "amount_elsewhere", currency: without });
};

/** Gives a product another price and another way to pay it, from now on. */
export const setPrice = async (
  em: EntityManager,
  user: DeskUser,
  id: string,
  { price, terms }: { price: string; terms: PriceTerms },
  now: Date,
): Promise<void> => {
  mustBeAllowed(user, "product.edit");
  await em.transactional(async (tx) => {
    const product = required(await tx.findOne(Product, { id }, { lockMode: LockMode.PESSIMISTIC_WRITE }), "product");
    product.rowVersion += 1;
    product.priceMinor = priceOf(price, product.currency, await deskLocale(tx), { kind: terms.kind });
    product.terms = terms;
    mustBePriced(product);
    await tx.flush();
    await noteAsked(tx, product, now);
    await launchChanged(tx);
  });
};

/** A copy of a product, for the next offer or a downsell: what it is, at a price of its own. */
export const copyProduct = async (em: EntityManager, user: DeskUser, id: string, request: SmallProduct, now: Date): Promise<{ id: string }> => {
  mustBeAllowed(user, "product.edit");
  return em.transactional(async (tx) => {
    const from = required(await tx.findOne(Product, { id }), "product");
    const made = await makeProduct(tx, from, { ...request, label: `Copy of ${from.name}` }, now);
    const { description, kind, alone, accessAtOnce, limitPerPerson, terms, mediaId, chargeWhen, contents } = from;
    Object.assign(made, { description, kind, alone, accessAtOnce, limitPerPerson, terms, mediaId, chargeWhen, contents });
    await tx.flush();
    return { id: made.id };
  });
};

export interface ProductChoice {
  id: string;
  name: string;
  currency: string;
  priceMinor: number;
}

/** All products by name, for a choice among them: of one name each with its label at the desk, or else its price. */
export const productChoices = async (em: EntityManager): Promise<ProductChoice[]> =>
  distinctNames(
    (await em.find(Product, {}, { orderBy: { name: 1 } })).map(({ id, name, privateLabel, priceMinor, currency }) => ({
      id,
      name,
      hint: privateLabel || formatMoney(priceMinor, currency),
      currency,
      priceMinor,
    })),
    ({ hint }) => hint,
  ).map(({ id, name, currency, priceMinor }) => ({ id, name, currency, priceMinor }));

/** Where a product is sold: `main of The Workshop`. */
const usesOf = async (em: EntityManager): Promise<Map<string, string[]>> => {
  const uses = new Map<string, string[]>();
  const use = (id: string, words: string) => uses.set(id, [...(uses.get(id) ?? []), words]);
  for (const { id } of await em.find(Launch, {}, { fields: ["id"], orderBy: { createdAt: -1 } })) {
    const context = (await loadLaunch(em, { id }))!;
    use(context.product.id, `main of ${context.launch.name}`);
    for (const { product } of context.bumps) use(product.id, `bump of ${context.launch.name}`);
    for (const { product, kind } of context.steps) use(product.id, `${kind} of ${context.launch.name}`);
  }
  return uses;
};

/** Every product with what was sold of it, and where it stands. */
export const listProducts = async (em: EntityManager, scope: FigureScope): Promise<ProductRow[]> => {
  const [products, figures, uses] = await Promise.all([em.find(Product, {}, { orderBy: { name: 1 } }), productFigures(em, scope), usesOf(em)]);
  return products.map(
    ({
      id,
      name,
      privateLabel,
      description,
      kind,
      taxClass,
      taxMode,
      priceMinor,
      currency,
      refundDays,
      alone,
      onSale,
      accessAtOnce,
      limitPerPerson,
      seats,
      ...more
    }) => ({
      version: more.rowVersion,
      id,
      name,
      privateLabel,
      description,
      kind,
      taxClass: taxClass as ProductRow["taxClass"],
      taxMode,
      priceMinor,
      currency,
      refundDays,
      alone,
      onSale,
      accessAtOnce,
      limitPerPerson: limitPerPerson ?? null,
      seats: seats ?? null,
      terms: more.terms,
      prices: more.prices,
      mediaId: more.mediaId ?? null,
      chargeWhen: more.chargeWhen,
      contents: more.contents,
      sold: figures.get(id)?.sold ?? 0,
      grossMinor: figures.get(id)?.grossMinor ?? 0,
      uses: uses.get(id) ?? [],
    }),
  );
};

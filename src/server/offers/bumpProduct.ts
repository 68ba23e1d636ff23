import { randomUUID } from "node:crypto";
import { formatMoney, parseAmount } from "../../core/money";
import { Page, Product, type DeskUser } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { found, Refusal } from "../app/refusal";
import { mustWrite } from "../app/session";
import { loadBundle, type LaunchBundle } from "../launch/bundle";
import type { z } from "zod";
import type { offerRequest } from "./setOffer";

/** A product as the desk's panes name it; the price in words. */
export interface SoldProduct {
  id: string;
  name: string;
  price: string;
}
const named = ({ id, name, priceMinor, currency }: Product): SoldProduct => ({ id, name, price: formatMoney(priceMinor, currency) });

/** Products that a bump of a launch may add: those of its currency, but for what it sells already. */
export const bumpProducts = async (em: EntityManager, { product }: LaunchBundle): Promise<SoldProduct[]> =>
  (await em.find(Product, { currency: product.currency, id: { $ne: product.id } }, { orderBy: { name: 1 } })).map(named);

/** Makes a small product for a bump, in the currency, tax mode and refund time of the launch's main product. Nothing is sold before the page is published. */
export const makeBumpProduct = async (
  em: EntityManager,
  user: DeskUser,
  pageId: string,
  request: z.infer<typeof offerRequest>,
): Promise<SoldProduct> => {
  mustWrite(user);
  const page = found(await em.findOne(Page, { id: pageId, kind: "checkout" }), "checkout page");
  const bundle = found(await loadBundle(em, { id: page.launchId }), "launch");
  const { currency, taxMode, refundDays } = bundle.product;
  const priceMinor = parseAmount(request.price, currency);
  if (!priceMinor) throw new Refusal(422, "fields", "The product was not made.", { price: "Give an amount above zero, such as 17.00." });
  const made = { id: randomUUID(), name: request.name, privateLabel: "Order bump", taxClass: "standard", description: "" };
  const product = em.create(Product, { ...made, refundDays, priceMinor, currency, taxMode });
  await em.persist(product).flush();
  return named(product);
};

import { split } from "../../money";
import type { Due } from "./price";
import type { TaxedAmount } from "./tax";

/** What a line of an order is: the launch's own product, an addition ticked at the checkout, an offer, sending one of these, or a later payment. */
export const lineRoles = ["front", "bump", "offer", "shipping", "rebill"] as const;
export type LineRole = (typeof lineRoles)[number];

/** One line of a charge; minor units of the charge's currency. */
export interface ChargeItem {
  productId: string;
  role: LineRole;
  gross: number;
  tax: number;
  rateBp: number;
  /** What a coupon took off it, before tax. */
  discount?: number;
  /** How many; one where it does not say. */
  quantity?: number;
  /** What is charged again by itself, before tax as its product prices it. */
  later?: Due["later"];
}

export const itemOf = (
  productId: string,
  role: LineRole,
  { gross, tax, rateBp }: TaxedAmount,
  { discount = 0, quantity = 1, later }: Partial<Pick<ChargeItem, "discount" | "quantity" | "later">> = {},
): ChargeItem => ({
  productId,
  role,
  gross,
  tax,
  rateBp,
  ...(discount > 0 ? { discount } : {}),
  ...(quantity > 1 ? { quantity } : {}),
  ...(later ? { later } : {}),
});

/** What a bundle holds, in words that stand behind its name; undefined where it holds nothing. */
export const withParts = (parts: readonly { name: string }[]): string | undefined =>
  parts.length > 0 ? `with ${parts.map(({ name }) => name).join(", ")}` : undefined;

/** A line's name and what it holds, where both stand in one line of words. */
export const lineWords = ({ name, contents }: { name: string; contents: readonly { name: string }[] }): string =>
  [name, withParts(contents)].filter(Boolean).join(", ");

/** What a charge comes to: the sum of its lines. */
export const totalOf = (items: readonly Pick<ChargeItem, "gross" | "tax">[]): { gross: number; tax: number } =>
  items.reduce((sum, { gross, tax }) => ({ gross: sum.gross + gross, tax: sum.tax + tax }), { gross: 0, tax: 0 });

/** The processor's fee, shared among the lines by their gross; not a cent is lost. Where nothing was paid, the first line bears it. */
export const feesOf = (items: readonly Pick<ChargeItem, "gross">[], fee: number): number[] =>
  items.every(({ gross }) => gross === 0)
    ? items.map((_, index) => (index === 0 ? fee : 0))
    : split(
        fee,
        items.map(({ gross }) => gross),
      );

import { split } from "../money";
import type { TaxedAmount } from "./tax";

/** What a line of an order is: the launch's own product, an addition ticked at the checkout, or an offer after it. */
export const lineRoles = ["front", "bump", "offer"] as const;
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
}

export const itemOf = (productId: string, role: LineRole, { gross, tax, rateBp }: TaxedAmount, discount = 0): ChargeItem => ({
  ...{ productId, role, gross, tax, rateBp },
  ...(discount > 0 ? { discount } : {}),
});

/** What a charge comes to: the sum of its lines. */
export const totalOf = (items: readonly Pick<ChargeItem, "gross" | "tax">[]): { gross: number; tax: number } =>
  items.reduce((sum, { gross, tax }) => ({ gross: sum.gross + gross, tax: sum.tax + tax }), { gross: 0, tax: 0 });

/** The processor's fee, shared among the lines by their gross; not a cent is lost. */
export const feesOf = (items: readonly Pick<ChargeItem, "gross">[], fee: number): number[] =>
  split(
    fee,
    items.map(({ gross }) => gross),
  );

import { fault } from "../../words";
import { z } from "zod";
import { currencies, multiplyRounded, split } from "../../money";

/** A coupon as its rules are judged. One to an order. */
export interface Coupon {
  /** Either a share in basis points, or an amount in minor units for each currency it holds in. */
  off: { kind: "percent"; bp: number } | { kind: "amount"; minor: Record<string, number | undefined> };
  /** The products it covers; null for all. */
  products: string[] | null;
  /** When it holds, half-open. */
  from: Date | null;
  until: Date | null;
  /** How many orders may use it in all; null for any number. */
  uses: number | null;
  oncePerPerson: boolean;
}

export interface CouponUse {
  at: Date;
  /** Orders that have used it, and those of this person among them. */
  used: number;
  usedByPerson: number;
  currency: string;
  products: readonly string[];
}

export type CouponRefusal = "not_yet" | "over" | "used_up" | "used_by_person" | "other_currency" | "other_products";
const covers = ({ products }: Coupon, product: string) => products === null || products.includes(product);

/** Why a coupon does not hold for an order, or undefined where it does. */
export const couponRefusal = (coupon: Coupon, use: CouponUse): CouponRefusal | undefined => {
  if (coupon.from && use.at < coupon.from) return "not_yet";
  if (coupon.until && use.at >= coupon.until) return "over";
  if (coupon.uses !== null && use.used >= coupon.uses) return "used_up";
  if (coupon.oncePerPerson && use.usedByPerson > 0) return "used_by_person";
  if (coupon.off.kind === "amount" && !coupon.off.minor[use.currency]) return "other_currency";
  return use.products.some((product) => covers(coupon, product)) ? undefined : "other_products";
};

/**
 * What a coupon takes off each line of an order, before tax; never more than the line. A share is rounded by line, half
 * away from zero; an amount is taken once and divided among the lines it covers by what they cost.
 */
export const discountsOf = (coupon: Coupon, lines: readonly { productId: string; minor: number }[], currency: string): number[] => {
  const base = lines.map(({ productId, minor }) => (covers(coupon, productId) ? minor : 0));
  const { off } = coupon;
  if (off.kind === "percent") return base.map((minor) => Math.min(minor, multiplyRounded(minor, off.bp, 10_000)));
  const sum = base.reduce((total, minor) => total + minor, 0);
  if (sum === 0) return base;
  return split(Math.min(off.minor[currency] ?? 0, sum), base);
};

/** A code as it is compared: people type it in any case, with spaces around. */
export const normaliseCode = (typed: string): string => typed.trim().toUpperCase();

const code = z
  .string()
  .transform(normaliseCode)
  .pipe(z.string().regex(/^[A-Z0-9-]{3,40}$/, fault("coupon_code")));

/** What the desk sends to make a coupon: one code that many may use, or so many codes that hold once each. */
export const couponRequest = z.object({
  label: z.string().trim().min(1, fault("coupon_label_missing")).max(120),
  off: z.discriminatedUnion("kind", [
    z.object({
      kind: z.literal("percent"),
      percent: z.string().regex(/^\s*(100([.,]0{1,2})?|\d{1,2}([.,]\d{1,2})?)\s*$/, fault("percent_off")),
    }),
    z.object({ kind: z.literal("amount"), amount: z.string(), currency: z.enum(currencies) }),
  ]),
  codes: z.discriminatedUnion("kind", [
    z.object({ kind: z.literal("shared"), code, uses: z.number().int().min(1).max(1_000_000).nullable() }),
    z.object({
      kind: z.literal("single"),
      count: z.number().int().min(1).max(10_000),
    }),
  ]),
  products: z.array(z.uuid()).max(100).nullable(),
  /** The partner who is credited with the orders that use it. */
  partner: z.uuid().nullable().default(null),
  /** Wall times in the zone named; empty for no limit. */
  from: z.string(),
  until: z.string(),
  zone: z.string(),
  oncePerPerson: z.boolean(),
});
export type CouponRequest = z.infer<typeof couponRequest>;

/** A coupon as the desk lists it. */
export interface CouponRow {
  id: string;
  label: string;
  /** What it takes off, in words. */
  off: string;
  /** The shared code, or how many single ones there are. */
  code: string | null;
  codes: number;
  uses: number | null;
  used: number;
  /** What it took off so far, minor units by currency. */
  discount: Record<string, number>;
  products: string[] | null;
  /** The partner whose it is. */
  partner: string | null;
  from: string | null;
  until: string | null;
  oncePerPerson: boolean;
  stopped: boolean;
  /** When it was made, ISO 8601. */
  made: string;
  /** Whether it has left the list. */
  archived: boolean;
}

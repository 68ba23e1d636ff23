import type { Featured } from "../launch";
import { multiplyRounded } from "../money";

/** Commission on a line: `rateBp` basis points of its net amount, never more than the base, never below zero. Minor units. */
export const commissionOn = (netMinor: number, rateBp: number): number => Math.max(0, Math.min(netMinor, multiplyRounded(netMinor, rateBp, 10_000)));

/** The rule of a plan that made a commission. */
export const commissionRules = ["partner_rate", "featured_day"] as const;
export type CommissionRule = (typeof commissionRules)[number];

/** A rate in basis points, by the rule that sets it. */
export interface CommissionRate {
  rule: CommissionRule;
  rateBp: number;
}

/** What a partner earns at an instant: their own rate, or that of a featured day where it is higher. */
export const commissionRateAt = (ownBp: number, featured: readonly Featured[], at: Date): CommissionRate => {
  const highest = Math.max(...featured.filter(({ from, to }) => from <= at && at < to).map(({ rateBp }) => rateBp));
  return highest > ownBp ? { rule: "featured_day", rateBp: highest } : { rule: "partner_rate", rateBp: ownBp };
};

/** The plan by which each partner earns a rate of their own, or that of a featured day. A commission names its plan and version. */
export const partnerRatePlan = { id: "8f1d3a52-6c3e-4d0b-9a57-2f6d1b9e4c10", version: 1 } as const;

/** The instant until which a commission is held: the refund window's end plus a margin of days. */
export const pendingUntil = (soldAt: Date, refundDays: number, marginDays = 5): Date =>
  new Date(soldAt.getTime() + (refundDays + marginDays) * 86_400_000);

import type { Featured } from "../launch";
import { multiplyRounded } from "../money";

/** Commission on a line: `rateBp` basis points of its net amount, never more than the base, never below zero. Minor units. */
export const commissionOn = (netMinor: number, rateBp: number): number => Math.max(0, Math.min(netMinor, multiplyRounded(netMinor, rateBp, 10_000)));

/** What a partner earns at an instant, in basis points: their own rate, or that of a featured day where it is higher. */
export const commissionRateAt = (ownBp: number, featured: readonly Featured[], at: Date): number =>
  Math.max(ownBp, ...featured.filter(({ from, to }) => from <= at && at < to).map(({ rateBp }) => rateBp));

/** The instant until which a commission is held: the refund window's end plus a margin of days. */
export const pendingUntil = (soldAt: Date, refundDays: number, marginDays = 5): Date =>
  new Date(soldAt.getTime() + (refundDays + marginDays) * 86_400_000);

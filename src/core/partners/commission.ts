import { multiplyRounded } from "../money";

/** Commission on a line: `rateBp` basis points of its net amount, never more than the base, never below zero. Minor units. */
export const commissionOn = (netMinor: number, rateBp: number): number => Math.max(0, Math.min(netMinor, multiplyRounded(netMinor, rateBp, 10_000)));

/** The instant until which a commission is held: the refund window's end plus a margin of days. */
export const heldUntil = (soldAt: Date, refundDays: number, marginDays = 5): Date =>
  new Date(soldAt.getTime() + (refundDays + marginDays) * 86_400_000);

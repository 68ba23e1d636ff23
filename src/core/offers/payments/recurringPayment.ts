import { Temporal } from "temporal-polyfill";
import type { Every } from "../price/price";

/** When the payment after so many more is due, counted from the first: months and years keep its day, or take the month's last. */
export const paymentDay = (first: Date, every: Every, after: number): Date => {
  const from = Temporal.Instant.fromEpochMilliseconds(first.getTime()).toZonedDateTimeISO("UTC");
  const long = every.n * after;
  const on = from.add(every.unit === "week" ? { weeks: long } : every.unit === "month" ? { months: long } : { years: long });
  return new Date(on.epochMilliseconds);
};

/** Refusals after which the same card is never tried again (common practice): trying a stolen card looks like stealing. */
const final = new Set(["stolen_card", "card_not_taken", "expired_card"]);
/** Days after which a refused payment is tried again (common practice, no source). */
export const retryDays = [1, 3, 5] as const;

/** When a payment that was refused is tried again, or undefined where the recurring payment is over. `tries` counts the refusals so far, this one among them. */
export const retryAt = (declineCode: string | undefined, tries: number, at: Date): Date | undefined => {
  const days = final.has(declineCode ?? "") ? undefined : retryDays[tries - 1];
  return days === undefined ? undefined : new Date(at.getTime() + days * 86_400_000);
};

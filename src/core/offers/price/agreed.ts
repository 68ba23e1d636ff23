import { publicWords } from "../../words";
import { type Locale, formatMoney, usualLocale } from "../../money";
import { euCountries } from "./evidence";
import { type Due } from "./price";
import type { ProductKind } from "./product";

/** What a buyer agreed to, in the very words that stood beside the box or the button, and when. */
export interface Agreed {
  to: "terms" | "start_at_once" | "later_payments";
  words: string;
  at: string;
}

/**
 * Whether a buyer's right of withdrawal ends with the delivery only where they ask for it and know that (Directive
 * 2011/83/EU, art. 16 (m)): digital content without a carrier, for consumers of the European Union.
 */
export const asksWaiver = (kinds: readonly ProductKind[], country: string, business: boolean): boolean =>
  !business && euCountries.has(country) && kinds.some((kind) => kind === "download" || kind === "library");

/** What is charged later, in words; shown before the press and kept with the order. Amounts in minor units, tax included. */
export const paymentsWords = (
  { every, times, firstAfterDays = 0 }: NonNullable<Due["later"]>,
  gross: number,
  currency: string,
  locale: Locale = usualLocale,
): string => publicWords(locale).price.payments(formatMoney(gross, currency, locale), every.unit, every.n, times, firstAfterDays);

/** The same behind what is charged at once. */
export const recurringWords = (later: NonNullable<Due["later"]>, gross: number, currency: string, locale: Locale = usualLocale): string =>
  publicWords(locale).price.then(paymentsWords(later, gross, currency, locale));

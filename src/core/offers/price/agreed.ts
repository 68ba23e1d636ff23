import { counted } from "../../figures";
import { formatMoney } from "../../money";
import { euCountries } from "./evidence";
import { everyWords, type Due } from "./price";
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

/** The sentence of the box, never ticked beforehand. */
export const waiverWords = "Give me access at once. I know that I lose my right of withdrawal with it.";
/** What is said at a box that must be ticked before the press. */
export const mustTick = {
  waiver: "Tick this box: without it, access could begin only after the days in which you may withdraw.",
  terms: "Tick this box if you agree. Nothing is charged without it.",
} as const;
/** The same, where a press on a button asks for it. */
export const waiverByPress = "With the press you ask for access at once, and lose your right of withdrawal with it.";

/** What is charged later, in words; shown before the press and kept with the order. Amounts in minor units, tax included. */
export const paymentsWords = ({ every, times, firstAfterDays }: NonNullable<Due["later"]>, gross: number, currency: string): string => {
  const often = every.n === 1 ? `every ${every.unit}` : `every ${everyWords(every)}`;
  const begins = firstAfterDays ? ` beginning in ${counted(firstAfterDays, "day")}` : "";
  const long = times === null ? "until you end it" : times === 1 ? "once" : `${times} times`;
  return `${formatMoney(gross, currency)} ${often}, ${long}${begins ? `,${begins}` : ""}.`;
};

/** The same behind what is charged at once. */
export const recurringWords = (...of: Parameters<typeof paymentsWords>): string => `Then ${paymentsWords(...of)}`;

import { minorDigits, wholeUnits } from "./currency";

/** Ways to write numbers that a desk may choose (BCP 47), whatever the language of its words. */
export const locales = ["en-IE", "de-DE", "fr-FR", "de-CH"] as const;
export type Locale = (typeof locales)[number];
export const usualLocale: Locale = "en-IE";

// Making a formatter costs a hundred times more than using it.
const formatters = new Map<string, Intl.NumberFormat>();
const formatterOf = (currency: string, locale: Locale): Intl.NumberFormat => {
  const key = `${locale} ${currency}`;
  let formatter = formatters.get(key);
  if (!formatter) formatters.set(key, (formatter = new Intl.NumberFormat(locale, { style: "currency", currency })));
  return formatter;
};

/** `€149.00`, from minor units. `readAmount` reads it back. */
export const formatMoney = (minor: number, currency: string, locale: Locale = usualLocale): string =>
  formatterOf(currency, locale).format(minor / 10 ** minorDigits(currency));

/** What stands between whole units and minor ones, what groups thousands, and the signs of a currency. */
export interface AmountMarks {
  decimal: string;
  group: string;
  signs: string[];
}
const marks = new Map<string, AmountMarks>();

/** How amounts of a currency are written in a locale. */
export const amountMarks = (currency: string, locale: Locale): AmountMarks => {
  const key = `${locale} ${currency}`;
  let known = marks.get(key);
  if (!known) {
    // Yen have no decimal mark of their own: it is asked of a number.
    const parts = new Intl.NumberFormat(locale, { minimumFractionDigits: 1 }).formatToParts(1_234_567.5);
    const part = (type: string) => parts.find((one) => one.type === type)!.value;
    const sign = (currencyDisplay: "symbol" | "narrowSymbol") =>
      new Intl.NumberFormat(locale, { style: "currency", currency, currencyDisplay }).formatToParts(1).find(({ type }) => type === "currency")!.value;
    known = { decimal: part("decimal"), group: part("group"), signs: [currency, sign("symbol"), sign("narrowSymbol")] };
    marks.set(key, known);
  }
  return known;
};

/**
 * An amount without its currency, as it stands in a field: `1234.50`, with the locale's decimal mark. Without a locale it
 * has a point: the form for other programs (CSV, structured data).
 */
export const formatAmount = (minor: number, currency: string, locale?: Locale): string => {
  const digits = minorDigits(currency);
  const plain = (minor / 10 ** digits).toFixed(digits);
  return locale ? plain.replace(".", amountMarks(currency, locale).decimal) : plain;
};

/** `23 %` from basis points; `7.9 %`. */
export const formatBasisPoints = (bp: number, locale: Locale = usualLocale): string =>
  `${(bp / 100).toLocaleString(locale, { maximumFractionDigits: 2 })} %`;

/** `€1,900` where an amount is whole, for the marks of an axis. */
export const formatRoughly = (minor: number, currency: string, locale: Locale = usualLocale): string => {
  const shown = formatMoney(minor, currency, locale);
  return minorDigits(currency) > 0 && minor % wholeUnits(1, currency) === 0 ? shown.replace(/[.,]0+(?=\D*$)/, "") : shown;
};

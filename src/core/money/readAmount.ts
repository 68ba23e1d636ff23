import { minorDigits } from "./currency";
import { amountMarks, usualLocale, type Locale } from "./format";

/** Why typed text is no amount. `readings` are minor units, the likelier first. */
export type AmountRefusal =
  | { code: "not_an_amount" }
  | { code: "other_currency"; currency: string }
  | { code: "too_fine"; digits: number }
  | { code: "ambiguous"; readings: number[] };

const mostDigits = 9;
const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");

/** What is left of an amount without its currency's sign, before or behind; undefined where a sign is none of its own. */
const withoutSign = (typed: string, signs: readonly string[]): string | undefined => {
  const one = signs.map(escaped).join("|");
  const match = new RegExp(`^(?:${one})?\\s*([\\d.,'’\\s]*\\d)\\s*(?:${one})?$`, "iu").exec(typed);
  return match?.[1]?.replace(/\s/gu, " ").replace(/’/g, "'");
};

/** Whole units with one kind of mark between their thousands, or with none. */
const wholeOf = (text: string): string | undefined => {
  const mark = /[^\d]/.exec(text)?.[0];
  if (mark === undefined) return text;
  return new RegExp(`^[1-9]\\d{0,2}(?:${escaped(mark)}\\d{3})+$`).test(text) ? text.replaceAll(mark, "") : undefined;
};

/**
 * Minor units of an amount that a person typed, or why it is none: `149`, `149.00`, `€1,500.00`, `1 500`. What the
 * locale writes is read as it means it; what only another locale writes is read where it can mean one thing
 * (`149,5`), and asked back where it may mean two (`1.000` in English: a thousand, or one).
 */
export const readAmount = (typed: string, currency: string, locale: Locale = usualLocale): number | AmountRefusal => {
  const digits = minorDigits(currency);
  const { decimal, group, signs } = amountMarks(currency, locale);
  const trimmed = typed.trim();
  const text = withoutSign(trimmed, signs);
  if (text === undefined) {
    const other = /^([A-Z]{3}|\p{Sc})\s?[\d.,]+$|^[\d.,]+\s?([A-Z]{3}|\p{Sc})$/iu.exec(trimmed);
    return other ? { code: "other_currency", currency } : { code: "not_an_amount" };
  }
  const minorOf = (whole: string, fraction: string): number | undefined =>
    whole.length > mostDigits ? undefined : Number(whole) * 10 ** digits + Number(fraction.padEnd(digits, "0") || 0);
  const ofWhole = (part: string): number | undefined => {
    const whole = wholeOf(part);
    return whole === undefined ? undefined : minorOf(whole, "");
  };
  const withDecimal = (mark: string): { minor: number } | { fine: true } | undefined => {
    const parts = text.split(mark);
    if (parts.length !== 2 || !/^\d+$/.test(parts[1]!)) return undefined;
    const whole = wholeOf(parts[0]!);
    if (whole === undefined) return undefined;
    if (parts[1]!.length > digits) return { fine: true };
    const minor = minorOf(whole, parts[1]!);
    return minor === undefined ? undefined : { minor };
  };

  const asMeant = withDecimal(decimal);
  if (asMeant && "minor" in asMeant) return asMeant.minor;
  const other = decimal === "." ? "," : ".";
  const grouped = ofWhole(text);
  const asElsewhere = withDecimal(other);
  // One mark with three digits behind it groups thousands in one habit and begins the fraction in another.
  const onlyMark = /^\d+([.,])\d{3}$/.exec(text)?.[1];
  if (grouped !== undefined && onlyMark && (onlyMark !== group || digits === 3))
    return { code: "ambiguous", readings: [grouped, grouped / 1000].filter(Number.isInteger) };
  if (grouped !== undefined) return grouped;
  if (asElsewhere && "minor" in asElsewhere) return asElsewhere.minor;
  return asMeant || asElsewhere ? { code: "too_fine", digits } : { code: "not_an_amount" };
};

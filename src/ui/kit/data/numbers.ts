import * as core from "../../../core/money";
import * as words from "../../../core/words";

let ofServer: core.Locale = core.usualLocale;

/** Says how numbers are written while pages of the desk are rendered: the frame does so, with the vendor's choice. */
export const renderNumbersFor = (locale: core.Locale): void => {
  ofServer = locale;
};

/** How this desk writes numbers. In the browser the frame has said so on the page. */
export const deskLocale = (): core.Locale =>
  typeof document === "undefined" ? ofServer : (core.locales.find((one) => one === document.documentElement.dataset["numbers"]) ?? core.usualLocale);

/** An amount with its currency, as this desk writes it. Minor units. */
export const formatMoney = (minor: number, currency: string): string => core.formatMoney(minor, currency, deskLocale());

/** `€1,900` where an amount is whole, for the marks of a drawing. */
export const formatRoughly = (minor: number, currency: string): string => core.formatRoughly(minor, currency, deskLocale());

/** Sums of several currencies, each by itself, as this desk writes them. */
export const formatMoneyByCurrency = (sums: core.MoneyByCurrency, usual: string): string => core.formatMoneyByCurrency(sums, usual, deskLocale());

/** An amount as it stands in a field of this desk. */
export const formatAmount = (minor: number, currency: string): string => core.formatAmount(minor, currency, deskLocale());

/** Minor units of what was typed at this desk, or why it is no amount. */
export const readAmount = (typed: string, currency: string): number | core.AmountRefusal => core.readAmount(typed, currency, deskLocale());

/** What is said at a field of this desk. */
export const faultSentence = (fault: words.Fault): string => words.faultSentence(fault, deskLocale());

/** What a schema finds wrong, as it is said at each field. */
export const faultSentences = (faults: Readonly<words.Faults>): Record<string, string> => words.faultSentences(faults, deskLocale());

/** `23 %`, from basis points. */
export const formatBasisPoints = (bp: number): string => core.formatBasisPoints(bp, deskLocale());

import { usualLocale, type Locale } from "../money";
import { emailWords } from "../words";

/** What the receipt of an order says. Amounts come formatted. */
export interface ReceiptFacts {
  number: string;
  lines: { name: string; gross: string; tax: string }[];
  total: string;
  tax: string;
  /** What the tax is called where the buyer is. */
  taxName: string;
  /** A business that accounts for the tax itself. */
  vatNumber?: string;
  /** The code that was used, and what it took off before tax. */
  code?: { name: string; discount: string };
  /** What is charged later, in words. */
  recurring?: string[];
  /** Whether it only tries things out. */
  test?: boolean;
  /** How much of it is only authorized on the card until it ships. */
  authorized?: string;
}

/** A receipt in sentences: a line for each thing bought, and what must be said below the sum. */
export const receiptSentences = (v: ReceiptFacts, locale: Locale = usualLocale): { lines: string[]; total: string; notes: string[] } => {
  const { receipt } = emailWords(locale);
  const total = v.authorized ? receipt.total : receipt.paid;
  return {
    lines: v.lines.map((line) => receipt.line(line.name, line.gross, v.taxName, line.tax)),
    total: total(v.total, v.taxName, v.tax, v.number),
    notes: [
      ...(v.test ? [receipt.test] : []),
      ...(v.code ? [receipt.code(v.code.name, v.code.discount)] : []),
      ...(v.authorized ? [receipt.authorized(v.authorized)] : []),
      ...(v.recurring ?? []),
      ...(v.vatNumber ? [receipt.reverse(v.vatNumber)] : []),
    ],
  };
};

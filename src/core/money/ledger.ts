/** The accounts of the ledger. `partner_payable` is kept per partner. */
export const accounts = [
  "processor_clearing",
  "marketplace_receivable",
  "sales",
  "tax_payable",
  "processor_fees",
  "marketplace_fees",
  "commission_expense",
  "partner_payable",
  "refunds",
  "disputes",
  "bank",
] as const;
export type Account = (typeof accounts)[number];

/** One line of a journal: a debit is positive, a credit negative; minor units. */
export interface Posting {
  account: Account;
  minor: number;
  currency: string;
  partnerId?: string;
}

export const journalKinds = [
  "payment",
  "commission",
  "marketplace_sale",
  "refund",
  "commission_reversal",
  "dispute",
  "dispute_won",
  "commission_restored",
] as const;
export type JournalKind = (typeof journalKinds)[number];

export type JournalRefusal = { code: "unbalanced"; currency: string; by: number } | { code: "partner_missing"; account: Account };

/** Why a journal may not be booked, or undefined: it must sum to zero in each currency and name the partner it owes. */
export const journalRefusal = (postings: Posting[]): JournalRefusal | undefined => {
  const sums = new Map<string, number>();
  for (const { account, minor, currency, partnerId } of postings) {
    if (account === "partner_payable" && !partnerId) return { code: "partner_missing", account };
    sums.set(currency, (sums.get(currency) ?? 0) + minor);
  }
  for (const [currency, by] of sums) if (by !== 0) return { code: "unbalanced", currency, by };
  return undefined;
};

const booked = (postings: Posting[]) => postings.filter(({ minor }) => minor !== 0);

/** A card payment: the processor owes gross less its fee; sales earn net; tax is owed. */
export const paymentPostings = (line: { net: number; tax: number; fee: number; currency: string }): Posting[] =>
  booked([
    { account: "processor_clearing", minor: line.net + line.tax - line.fee, currency: line.currency },
    { account: "processor_fees", minor: line.fee, currency: line.currency },
    { account: "sales", minor: -line.net, currency: line.currency },
    { account: "tax_payable", minor: -line.tax, currency: line.currency },
  ]);

/** A payment that came to the vendor past the checkout, by transfer or in cash. */
export const handPostings = (line: { net: number; tax: number; currency: string }): Posting[] =>
  booked([
    { account: "bank", minor: line.net + line.tax, currency: line.currency },
    { account: "sales", minor: -line.net, currency: line.currency },
    { account: "tax_payable", minor: -line.tax, currency: line.currency },
  ]);

/** A commission earned: an expense, owed to the partner. */
export const commissionPostings = (partnerId: string, minor: number, currency: string): Posting[] =>
  booked([
    { account: "commission_expense", minor, currency },
    { account: "partner_payable", minor: -minor, currency, partnerId },
  ]);

/** Money given back: what was sold comes back as refunds, its tax is owed no longer, the processor pays it out. Its fee stays (common practice). */
export const refundPostings = (part: { net: number; tax: number; currency: string }): Posting[] =>
  booked([
    { account: "refunds", minor: part.net, currency: part.currency },
    { account: "tax_payable", minor: part.tax, currency: part.currency },
    { account: "processor_clearing", minor: -part.net - part.tax, currency: part.currency },
  ]);

/** A commission taken back in part or whole: the expense and the debt to the partner shrink. */
export const reversalPostings = (partnerId: string, minor: number, currency: string): Posting[] =>
  booked([
    { account: "partner_payable", minor, currency, partnerId },
    { account: "commission_expense", minor: -minor, currency },
  ]);

/** A payment that the buyer's bank took back, and the processor's fee for it. */
export const disputePostings = (part: { net: number; tax: number; fee: number; currency: string }): Posting[] =>
  booked([
    { account: "disputes", minor: part.net, currency: part.currency },
    { account: "tax_payable", minor: part.tax, currency: part.currency },
    { account: "processor_fees", minor: part.fee, currency: part.currency },
    { account: "processor_clearing", minor: -part.net - part.tax - part.fee, currency: part.currency },
  ]);

/** A dispute that was won: the payment is back, the fee is not. */
export const disputeWonPostings = (part: { net: number; tax: number; currency: string }): Posting[] =>
  booked([
    { account: "processor_clearing", minor: part.net + part.tax, currency: part.currency },
    { account: "disputes", minor: -part.net, currency: part.currency },
    { account: "tax_payable", minor: -part.tax, currency: part.currency },
  ]);

/** A sale by a marketplace that sells in its own name and remits tax itself: it owes net less its fee. */
export const marketplaceSalePostings = (sale: { net: number; fee: number; currency: string }): Posting[] =>
  booked([
    { account: "marketplace_receivable", minor: sale.net - sale.fee, currency: sale.currency },
    { account: "marketplace_fees", minor: sale.fee, currency: sale.currency },
    { account: "sales", minor: -sale.net, currency: sale.currency },
  ]);

import { type Account } from "../../core/money";
import { publicWords } from "../../core/words";
import { deskLocale, formatMoney } from "../kit/data/numbers";
import { type RecurringPaymentState, type ChargeState, type Every, type LineRole } from "../../core/offers";

/** Names of the ledger's accounts as the desk shows them. */
export const accountNames: Record<Account, string> = {
  processor_clearing: "Processor clearing",
  marketplace_receivable: "Marketplace receivable",
  sales: "Sales",
  tax_payable: "Tax payable",
  processor_fees: "Processor fees",
  marketplace_fees: "Marketplace fees",
  commission_expense: "Commission expense",
  partner_payable: "Payable to partners",
  refunds: "Refunds",
  disputes: "Disputes",
  bank: "Bank, entered by hand",
};
export const accountName = (account: string): string => accountNames[account as Account] ?? account;

/** How an order came, as the desk says it. */
export const sourceWords = (source: string): string => (source === "own" ? "own checkout" : source === "hand" ? "entered by hand" : "marketplace");

/** What a line of an order is, as the desk says it. */
export const lineNames: Record<LineRole, string> = {
  front: "main product",
  bump: "order bump",
  offer: "one-time offer",
  shipping: "shipping",
  rebill: "rebill",
};

/** What came of a payment. */
export const paymentStates = (state: ChargeState, declineCode: string | null | undefined): string => {
  if (state === "declined") return `refused: ${(declineCode ?? "no reason given").replaceAll("_", " ")}`;
  return {
    pending: "pending",
    challenge: "waits for the buyer's bank",
    authorized: "authorized, not captured yet",
    succeeded: "succeeded",
    voided: "voided, never captured",
  }[state];
};

const endings: Record<string, string> = {
  paid: "paid in full",
  by_vendor: "cancelled at the desk",
  by_buyer: "cancelled by the buyer",
  card_refused: "ended: the card was refused too often",
  refunded: "ended: refunded",
};

/** What is paid later on an order, and how it stands, in words. */
export const recurringPaymentWords = (
  { minor, every, paymentsLeft, paid, nextAt, state, endedAt, endedBecause }: RecurringPaymentRow,
  { name, taxMode }: { name: string; taxMode: string },
  currency: string,
  moment: (at: Date) => string,
): { words: string; stands: string } => {
  const often = publicWords(deskLocale()).price.often(every.unit, every.n);
  const left = paymentsLeft === null || paymentsLeft === undefined ? "until cancelled" : `${paymentsLeft} left`;
  return {
    words: `${name}: ${formatMoney(minor, currency)} ${often}${taxMode === "inclusive" ? "" : " plus tax"}`,
    stands: endedAt
      ? `${paid} paid; ${endings[endedBecause ?? ""] ?? "ended"} ${moment(endedAt)}`
      : `${paid} paid, ${left}. ${state === "late" ? "Refused; tried again" : "Next"} ${moment(nextAt)}`,
  };
};

interface RecurringPaymentRow {
  minor: number;
  every: Every;
  paymentsLeft?: number | null;
  paid: number;
  nextAt: Date;
  state: RecurringPaymentState;
  endedAt?: Date | null;
  endedBecause?: string | null;
}

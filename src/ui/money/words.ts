import type { Account } from "../../core/money";
import type { LineRole } from "../../core/offers";

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
};
export const accountName = (account: string): string => accountNames[account as Account] ?? account;

/** What a line of an order is, as the desk says it. */
export const lineNames: Record<LineRole, string> = {
  front: "main product",
  bump: "order bump",
  offer: "one-time offer",
  shipping: "sending it",
  rebill: "later payment",
};

import type { Account } from "../../core/money";

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
};
export const accountName = (account: string): string => accountNames[account as Account] ?? account;

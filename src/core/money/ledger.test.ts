import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  accounts,
  commissionPostings,
  disputePostings,
  disputeWonPostings,
  handPostings,
  journalRefusal,
  marketplaceSalePostings,
  paymentPostings,
  refundPostings,
  reversalPostings,
  type Posting,
} from ".";

const amount = fc.integer({ min: 0, max: 100_000_000 });

describe("a journal", () => {
  const balanced = (postings: Posting[]) => {
    expect(journalRefusal(postings)).toBeUndefined();
    for (const { minor, account } of postings) {
      expect(minor).not.toBe(0);
      expect(accounts).toContain(account);
    }
  };
  it("of a payment, a commission or a marketplace sale always balances", () => {
    fc.assert(
      fc.property(amount, amount, amount, (net, tax, fee) => {
        balanced(paymentPostings({ net, tax, fee, currency: "EUR" }));
        balanced(marketplaceSalePostings({ net, fee, currency: "EUR" }));
        balanced(commissionPostings("partner", net, "EUR"));
      }),
    );
  });
  it("that does not sum to zero in each currency is refused, with the difference", () => {
    const postings: Posting[] = [
      { account: "sales", minor: -100, currency: "EUR" },
      { account: "processor_clearing", minor: 100, currency: "USD" },
    ];
    expect(journalRefusal(postings)).toEqual({ code: "unbalanced", currency: "EUR", by: -100 });
  });
  it("that owes a partner must say whom", () => {
    expect(journalRefusal([{ account: "partner_payable", minor: 0, currency: "EUR" }])).toEqual({
      code: "partner_missing",
      account: "partner_payable",
    });
  });
  it("of a payment of 149.00 at 23 % names every account once", () => {
    expect(paymentPostings({ net: 12_114, tax: 2_786, fee: 249, currency: "EUR" })).toEqual([
      { account: "processor_clearing", minor: 14_651, currency: "EUR" },
      { account: "processor_fees", minor: 249, currency: "EUR" },
      { account: "sales", minor: -12_114, currency: "EUR" },
      { account: "tax_payable", minor: -2_786, currency: "EUR" },
    ]);
  });
  it("of each kind books what a bookkeeper would (double entry: debits positive, credits negative; common practice)", () => {
    const part = { net: 10_000, tax: 2_300, currency: "EUR" };
    const book = (postings: Posting[]) => Object.fromEntries(postings.map(({ account, minor }) => [account, minor]));
    expect(book(handPostings(part))).toEqual({ bank: 12_300, sales: -10_000, tax_payable: -2_300 });
    expect(book(refundPostings(part))).toEqual({ refunds: 10_000, tax_payable: 2_300, processor_clearing: -12_300 });
    expect(book(disputePostings({ ...part, fee: 1_500 }))).toEqual({
      disputes: 10_000,
      tax_payable: 2_300,
      processor_fees: 1_500,
      processor_clearing: -13_800,
    });
    expect(book(disputeWonPostings(part))).toEqual({ processor_clearing: 12_300, disputes: -10_000, tax_payable: -2_300 });
    expect(book(marketplaceSalePostings({ net: 10_000, fee: 900, currency: "EUR" }))).toEqual({
      marketplace_receivable: 9_100,
      marketplace_fees: 900,
      sales: -10_000,
    });
    expect(commissionPostings("p", 4_000, "EUR")).toEqual([
      { account: "commission_expense", minor: 4_000, currency: "EUR" },
      { account: "partner_payable", minor: -4_000, currency: "EUR", partnerId: "p" },
    ]);
  });
  it("undoes what it reverses: after a sale and all of it given back only the processor's fee is left", () => {
    const line = fc.record({ net: amount, tax: amount, fee: amount, commission: amount });
    fc.assert(
      fc.property(line, ({ net, tax, fee, commission }) => {
        const part = { net, tax, currency: "EUR" };
        const all = [
          ...paymentPostings({ ...part, fee }),
          ...commissionPostings("p", commission, "EUR"),
          ...disputePostings({ ...part, fee: 0 }),
          ...disputeWonPostings(part),
          ...refundPostings(part),
          ...reversalPostings("p", commission, "EUR"),
        ];
        balanced(all.filter(({ minor }) => minor !== 0));
        const left = (account: Posting["account"]) => all.filter((one) => one.account === account).reduce((sum, { minor }) => sum + minor, 0);
        expect([left("tax_payable"), left("disputes"), left("partner_payable"), left("commission_expense")].map(Math.abs)).toEqual([0, 0, 0, 0]);
        expect(left("processor_fees")).toBe(fee);
        expect(left("processor_clearing") + fee).toBe(0);
        expect(left("sales") + left("refunds")).toBe(0);
      }),
    );
  });
  it("has no line of nothing", () => {
    expect(paymentPostings({ net: 100, tax: 0, fee: 0, currency: "EUR" }).map(({ account }) => account)).toEqual(["processor_clearing", "sales"]);
  });
});

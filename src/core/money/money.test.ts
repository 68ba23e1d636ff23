import { code } from "currency-codes";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  accounts,
  commissionPostings,
  currencies,
  formatMoney,
  journalRefusal,
  marketplaceSalePostings,
  minorDigits,
  multiplyRounded,
  parseAmount,
  paymentPostings,
  split,
  type Posting,
} from ".";

const amount = fc.integer({ min: 0, max: 100_000_000 });

describe("amounts", () => {
  it.each(currencies)("of %s have the minor units of ISO 4217, as an independent package carries them", (currency) => {
    expect(minorDigits(currency)).toBe(code(currency)!.digits);
  });
  it("are shown with their currency", () => {
    expect(formatMoney(14_900, "EUR")).toBe("€149.00");
    expect(formatMoney(1_500, "JPY")).toContain("1,500");
    expect(formatMoney(1_234, "KWD")).toContain("1.234");
  });
  it("are read as people type them, and refused where the currency is not that fine", () => {
    expect(parseAmount("149", "EUR")).toBe(14_900);
    expect(parseAmount("149,5", "EUR")).toBe(14_950);
    expect(parseAmount(" 0.05 ", "EUR")).toBe(5);
    expect(parseAmount("1.234", "KWD")).toBe(1_234);
    expect(parseAmount("1.5", "JPY")).toBeUndefined();
    for (const wrong of ["", "-1", "1e3", "1.2.3", "1,234.00", "149 EUR"]) expect(parseAmount(wrong, "EUR")).toBeUndefined();
  });
  it("round half away from zero", () => {
    expect(multiplyRounded(5, 1, 2)).toBe(3);
    expect(multiplyRounded(-5, 1, 2)).toBe(-3);
    expect(multiplyRounded(4, 1, 3)).toBe(1);
    expect(multiplyRounded(0, 5, 7)).toBe(0);
  });
  it("round to the nearest at any size, exactly", () => {
    fc.assert(
      fc.property(fc.integer(), fc.integer({ min: 0, max: 20_000 }), fc.integer({ min: 1, max: 20_000 }), (a, n, d) => {
        const twiceError = 2n * (BigInt(multiplyRounded(a, n, d)) * BigInt(d) - BigInt(a) * BigInt(n));
        expect(twiceError <= BigInt(d) && twiceError >= -BigInt(d)).toBe(true);
      }),
    );
  });
  it("split without losing or making a cent", () => {
    expect(split(100, [1, 1, 1])).toEqual([34, 33, 33]);
    expect(split(-100, [1, 1, 1])).toEqual([-34, -33, -33]);
    fc.assert(
      fc.property(
        fc.integer({ min: -1e9, max: 1e9 }),
        fc.array(fc.integer({ min: 0, max: 1000 }), { minLength: 1, maxLength: 12 }),
        (total, weights) => {
          fc.pre(weights.some((weight) => weight > 0));
          const parts = split(total, weights);
          expect(parts.reduce((a, b) => a + b, 0)).toBe(total);
          const sum = weights.reduce((a, b) => a + b, 0);
          parts.forEach((part, i) => expect(Math.abs(part - (total * weights[i]!) / sum)).toBeLessThan(1));
        },
      ),
    );
    expect(() => split(1, [0])).toThrow(RangeError);
  });
});

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
});

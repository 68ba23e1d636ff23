import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { chargeStates, checkoutPay, checkoutStart, declineSentence, mayBecome, rateAt, taxed } from ".";

const amount = fc.integer({ min: 1, max: 100_000_000 });
const rate = fc.integer({ min: 0, max: 3_000 });

describe("tax", () => {
  // Common practice, no source: a checkout of 99.90 at 8 % shows 107.89; the same at half the price 49.95 + 4.00 = 53.95.
  it("is added to an exclusive price: 99.90 at 8 % is 7.99 and 107.89", () => {
    expect(taxed(9_990, "exclusive", 800)).toEqual({ net: 9_990, tax: 799, gross: 10_789, rateBp: 800 });
    expect(taxed(4_995, "exclusive", 800)).toEqual({ net: 4_995, tax: 400, gross: 5_395, rateBp: 800 });
  });
  it("is inside an inclusive price: 149.00 at 23 % holds 27.86", () => {
    expect(taxed(14_900, "inclusive", 2_300)).toEqual({ net: 12_114, tax: 2_786, gross: 14_900, rateBp: 2_300 });
  });
  it("and net always make the gross, the price is never changed, and tax is within half a cent of the exact one", () => {
    fc.assert(
      fc.property(amount, rate, fc.constantFrom("inclusive" as const, "exclusive" as const), (price, bp, mode) => {
        const line = taxed(price, mode, bp);
        expect(line.net + line.tax).toBe(line.gross);
        expect(mode === "inclusive" ? line.gross : line.net).toBe(price);
        const exact = mode === "inclusive" ? (price * bp) / (10_000 + bp) : (price * bp) / 10_000;
        expect(Math.abs(line.tax - exact)).toBeLessThanOrEqual(0.5 + 1e-6);
      }),
    );
  });
  it("follows the rate that holds on the day, and is nothing where the table has none", () => {
    const table = [
      { country: "PT", taxClass: "standard", rateBp: 2_100, from: new Date("2010-07-01") },
      { country: "PT", taxClass: "standard", rateBp: 2_300, from: new Date("2011-01-01") },
    ];
    expect(rateAt(table, "PT", "standard", new Date("2010-12-31T23:59:59Z"))).toBe(2_100);
    expect(rateAt(table, "PT", "standard", new Date("2011-01-01"))).toBe(2_300);
    expect(rateAt(table, "PT", "books", new Date("2011-01-01"))).toBe(0);
    expect(rateAt(table, "US", "standard", new Date("2026-01-01"))).toBe(0);
    expect(rateAt(table, "PT", "standard", new Date("2001-01-01"))).toBe(0);
  });
  it("is a region's own where it has one, whatever its country does later, and the country's elsewhere", () => {
    const table = [
      { country: "PT", region: "20", taxClass: "standard", rateBp: 1_600, from: new Date("2021-07-01") },
      { country: "PT", taxClass: "standard", rateBp: 2_300, from: new Date("2011-01-01") },
      { country: "PT", taxClass: "standard", rateBp: 2_400, from: new Date("2025-01-01") },
    ];
    const at = (region: string, taxClass = "standard", day = "2026-01-01") => rateAt(table, "PT", taxClass, new Date(day), region);
    expect([at("20"), at("30"), at(""), at("20", "reduced"), at("20", "standard", "2021-06-30")]).toEqual([1_600, 2_400, 2_400, 0, 2_300]);
  });
});

describe("a charge", () => {
  it("ends for good: nothing follows success or refusal", () => {
    for (const to of chargeStates) {
      expect(mayBecome("succeeded", to)).toBe(false);
      expect(mayBecome("declined", to)).toBe(false);
    }
    expect(mayBecome("pending", "challenge")).toBe(true);
    expect(mayBecome("challenge", "succeeded")).toBe(true);
    expect(mayBecome("challenge", "pending")).toBe(false);
  });
  it("that is refused tells what to do, and that nothing was charged", () => {
    for (const code of ["insufficient_funds", "expired_card", "challenge_failed", "card_declined", "something_new", undefined]) {
      expect(declineSentence(code)).toContain("Nothing was charged.");
    }
  });
});

describe("the checkout's forms", () => {
  const good = { email: " Ada@Wool.Example ", firstName: " Ada ", country: "PT" };
  it("normalise what is typed", () => expect(checkoutStart.parse(good)).toEqual({ email: "ada@wool.example", firstName: "Ada", country: "PT" }));
  it("say at each field what is wrong", () => {
    const read = checkoutStart.safeParse({ email: "ada", firstName: " ", country: "XX" });
    expect(read.error?.issues.map(({ path }) => path[0])).toEqual(["email", "firstName", "country"]);
  });
  it("take a token of the card field, and nothing like a card number", () => {
    const pay = { ...good, checkout: "3b241101-e2bb-4255-8caf-4136c566a962", cardToken: "4111111111111111" };
    expect(checkoutPay.safeParse(pay).success).toBe(false);
    expect(checkoutPay.safeParse({ ...pay, cardToken: "tok_0123456789abcdef" }).success).toBe(true);
  });
});

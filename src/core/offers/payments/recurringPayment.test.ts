import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  asksWaiver,
  commissionToReverse,
  currenciesOf,
  currenciesWithout,
  disputeItems,
  dueIn,
  feesOf,
  recurringWords,
  once,
  paymentDay,
  priceIn,
  refundItems,
  retryAt,
  retryDays,
  spreadRefund,
  type Priced,
  type PriceTerms,
  type RefundableLine,
} from "..";

const day = 86_400_000;

describe("the days of later payments", () => {
  it("keep the day of the month, or take its last", () => {
    const first = new Date("2027-01-31T10:30:00Z");
    const days = [1, 2, 3, 13].map((n) => paymentDay(first, { unit: "month", n: 1 }, n).toISOString().slice(0, 10));
    // ECMAScript Temporal's `constrain`: each is counted from the first, so that March has its 31st again.
    expect(days).toEqual(["2027-02-28", "2027-03-31", "2027-04-30", "2028-02-29"]);
    expect(paymentDay(first, { unit: "week", n: 2 }, 3)).toEqual(new Date(first.getTime() + 42 * day));
    expect(paymentDay(new Date("2028-02-29T00:00:00Z"), { unit: "year", n: 1 }, 1).toISOString()).toBe("2029-02-28T00:00:00.000Z");
  });
  it("never stand still, whatever the interval", () => {
    const every = fc.record({ unit: fc.constantFrom("week" as const, "month" as const, "year" as const), n: fc.integer({ min: 1, max: 36 }) });
    const from = fc.date({ min: new Date("2020-01-01"), max: new Date("2040-01-01"), noInvalidDate: true });
    fc.assert(
      fc.property(from, every, fc.integer({ min: 0, max: 40 }), (first, often, n) => {
        expect(paymentDay(first, often, n + 1).getTime()).toBeGreaterThan(paymentDay(first, often, n).getTime());
      }),
    );
  });
  it("come again after a refusal, each time later, and never for a card that was stolen", () => {
    const at = new Date("2026-11-25T12:00:00Z");
    const again = retryDays.map((_, index) => (retryAt("insufficient_funds", index + 1, at)!.getTime() - at.getTime()) / day);
    expect(again).toEqual([1, 3, 5]);
    expect(retryAt("insufficient_funds", retryDays.length + 1, at)).toBeUndefined();
    for (const code of ["stolen_card", "expired_card", "card_not_taken"]) expect(retryAt(code, 1, at)).toBeUndefined();
  });
  it("are said before they are agreed to, exactly as they will be charged", () => {
    const month = { unit: "month" as const, n: 1 };
    expect(recurringWords({ minor: 1_200, every: month, times: null }, 1_200, "EUR")).toBe("Then €12.00 every month, until you cancel.");
    expect(recurringWords({ minor: 3_333, every: { unit: "week", n: 2 }, times: 2 }, 3_333, "EUR")).toBe("Then €33.33 every 2 weeks, 2 times.");
    expect(recurringWords({ minor: 1_200, every: month, times: null, firstAfterDays: 14 }, 1_200, "EUR")).toContain("starting in 14 days");
  });
});

describe("a refund", () => {
  const line = fc
    .record({ gross: fc.integer({ min: 1, max: 1_000_000 }), share: fc.integer({ min: 0, max: 27 }) })
    .map(({ gross, share }): RefundableLine => ({ id: "line", gross, tax: Math.floor((gross * share) / 127), refunded: { gross: 0, tax: 0 } }));
  it("in any parts gives back the line's tax to the cent, and never a negative part", () => {
    fc.assert(
      fc.property(line, fc.array(fc.integer({ min: 1, max: 500_000 }), { maxLength: 12 }), (whole, parts) => {
        const now = structuredClone(whole);
        for (const asked of [...parts, Number.MAX_SAFE_INTEGER]) {
          const part = Math.min(asked, now.gross - now.refunded.gross);
          if (part <= 0) continue;
          const items = refundItems([now], { line: part });
          if (!Array.isArray(items)) throw new Error(items.code);
          expect(items[0]!.tax).toBeGreaterThanOrEqual(0);
          expect(items[0]!.tax).toBeLessThanOrEqual(part);
          now.refunded.gross += items[0]!.gross;
          now.refunded.tax += items[0]!.tax;
        }
        expect(now.refunded).toEqual({ gross: whole.gross, tax: whole.tax });
      }),
    );
  });
  it("in any parts has given back, after each of them, the rounded share of all that went back so far, and no part a negative net", () => {
    const share = (tax: number, gone: number, gross: number) => Math.floor((2 * tax * gone + gross) / (2 * gross));
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 40 }).chain((gross) => fc.record({ gross: fc.constant(gross), tax: fc.nat({ max: gross }) })),
        fc.array(fc.integer({ min: 1, max: 4 }), { minLength: 40, maxLength: 40 }),
        ({ gross, tax }, parts) => {
          const now: RefundableLine = { id: "line", gross, tax, refunded: { gross: 0, tax: 0 } };
          for (const asked of parts) {
            const part = Math.min(asked, gross - now.refunded.gross);
            if (part === 0) break;
            const items = refundItems([now], { line: part });
            if (!Array.isArray(items)) throw new Error(items.code);
            expect(items[0]!.gross - items[0]!.tax).toBeGreaterThanOrEqual(0);
            expect(items[0]!.tax).toBeGreaterThanOrEqual(0);
            now.refunded = { gross: now.refunded.gross + items[0]!.gross, tax: now.refunded.tax + items[0]!.tax };
            expect(now.refunded.tax).toBe(share(tax, now.refunded.gross, gross));
          }
        },
      ),
    );
  });
  it.each([
    [9, 2, [2, 2, 2, 2, 1], [0, 1, 0, 1, 0]],
    [11, 2, [2, 2, 2, 2, 2, 1], [0, 1, 0, 0, 1, 0]],
  ])("of %d with a tax of %d in the parts %j gives back the tax %j", (gross, tax, parts, taxes) => {
    const now: RefundableLine = { id: "line", gross, tax, refunded: { gross: 0, tax: 0 } };
    const back = parts.map((part) => {
      const items = refundItems([now], { line: part });
      if (!Array.isArray(items)) throw new Error(items.code);
      now.refunded = { gross: now.refunded.gross + part, tax: now.refunded.tax + items[0]!.tax };
      return items[0]!.tax;
    });
    expect(back).toEqual(taxes);
  });
  it("in twenty parts of 0.02 of 1.00 gives back its tax of 0.09, not nothing", () => {
    const now: RefundableLine = { id: "line", gross: 100, tax: 23, refunded: { gross: 0, tax: 0 } };
    for (let n = 0; n < 20; n += 1) {
      const items = refundItems([now], { line: 2 });
      if (!Array.isArray(items)) throw new Error(items.code);
      now.refunded = { gross: now.refunded.gross + 2, tax: now.refunded.tax + items[0]!.tax };
    }
    expect(now.refunded).toEqual({ gross: 40, tax: 9 });
  });
  it("after parts that were booked by another rule brings the tax up to that of the whole", () => {
    const behind: RefundableLine = { id: "line", gross: 9, tax: 2, refunded: { gross: 6, tax: 0 } };
    expect(refundItems([behind], { line: 2 })).toEqual([{ lineId: "line", gross: 2, tax: 2 }]);
    expect(refundItems([behind], { line: 3 })).toEqual([{ lineId: "line", gross: 3, tax: 2 }]);
    const ahead: RefundableLine = { id: "line", gross: 9, tax: 2, refunded: { gross: 4, tax: 2 } };
    expect(refundItems([ahead], { line: 2 })).toEqual([{ lineId: "line", gross: 2, tax: 0 }]);
  });
  it("that a bank takes by a dispute is as much as it says, and what is beyond the lines is told apart", () => {
    const of = (id: string, gross: number, gone = 0): RefundableLine => ({ id, gross, tax: 0, refunded: { gross: gone, tax: 0 } });
    expect(disputeItems([of("a", 149), of("b", 67)], 100)).toEqual({
      items: [
        { lineId: "a", gross: 69, tax: 0 },
        { lineId: "b", gross: 31, tax: 0 },
      ],
      beyond: 0,
    });
    expect(disputeItems([of("a", 149, 49)], 149)).toEqual({ items: [{ lineId: "a", gross: 100, tax: 0 }], beyond: 49 });
    expect(disputeItems([of("a", 149, 149)], 149)).toEqual({ items: [], beyond: 149 });
  });
  it("as one sum is shared among the lines by what is left of them, and is never more than that", () => {
    const of = (id: string, gross: number, gone = 0): RefundableLine => ({ id, gross, tax: 0, refunded: { gross: gone, tax: 0 } });
    expect(spreadRefund([of("a", 149), of("b", 67)], 216)).toEqual({ a: 149, b: 67 });
    expect(spreadRefund([of("a", 100, 100), of("b", 67)], 10)).toEqual({ a: 0, b: 10 });
    expect(spreadRefund([of("a", 149)], 150)).toBeUndefined();
    expect(spreadRefund([of("a", 149)], 0)).toBeUndefined();
    expect(refundItems([of("a", 149, 100)], { a: 50 })).toEqual({ code: "more_than_left", lineId: "a", left: 49 });
    expect(refundItems([of("a", 149)], {})).toEqual({ code: "nothing_asked" });
  });
  it("takes the commission back in proportion, and all of it with the last cent", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 1e6 }),
        fc.integer({ min: 0, max: 100 }),
        fc.array(fc.nat({ max: 1e6 }), { maxLength: 8 }),
        (net, rate, parts) => {
          const commission = Math.floor((net * rate) / 100);
          let [reversed, gone] = [0, 0];
          for (const part of [...parts, net]) {
            gone = Math.min(net, gone + part);
            const backNow = commissionToReverse(commission, reversed, net, gone);
            expect(backNow).toBeGreaterThanOrEqual(0);
            reversed += backNow;
            expect(Math.abs(reversed - (commission * gone) / net)).toBeLessThanOrEqual(0.5);
          }
          expect(reversed).toBe(commission);
        },
      ),
    );
  });
});

describe("the processor's fee", () => {
  it("is shared to the cent, also where nothing was paid", () => {
    const lines = fc.array(fc.record({ gross: fc.nat({ max: 1e6 }) }), { minLength: 1, maxLength: 6 });
    fc.assert(
      fc.property(lines, fc.nat({ max: 5_000 }), (items, fee) => {
        expect(feesOf(items, fee).reduce((sum, part) => sum + part, 0)).toBe(fee);
      }),
    );
  });
});

describe("a product in another currency", () => {
  const of = (terms: PriceTerms, prices: Priced["prices"] = { USD: 2_400 }): Priced => ({ priceMinor: 2_000, currency: "EUR", terms, prices });
  it("has the price it was given there, and amounts beside it in the same proportion", () => {
    expect(currenciesOf(of(once))).toEqual(["EUR", "USD"]);
    expect(priceIn(of(once), "GBP")).toBeUndefined();
    expect(dueIn(of({ kind: "shipped", shipping: 500 }), "USD")).toMatchObject({ price: 2_400, shipping: 600 });
    expect(priceIn(of({ kind: "open", floor: 1_000 }), "USD")!.terms).toEqual({ kind: "open", floor: 1_200 });
    expect(dueIn(of({ kind: "tiers", tiers: [{ from: 3, minor: 1_500 }] }), "USD", { quantity: 3 })!.price).toBe(3 * 1_800);
    // Another price of its own, such as one that rose, is carried over in the same proportion; and is itself in its own.
    expect(dueIn(of(once), "USD", {}, 3_000)!.price).toBe(3_600);
    expect(dueIn(of(once), "EUR", {}, 3_000)!.price).toBe(3_000);
    const monthly: PriceTerms = { kind: "subscription", every: { unit: "month", n: 1 }, trialDays: 0, setup: 100, times: 6 };
    expect(dueIn(of(monthly), "USD")).toMatchObject({ price: 2_400 + 120, later: { minor: 2_400, times: 5 } });
  });
  it("that is free there still has what sending it costs: in proportion, or as it is said, or it is not sold", () => {
    const free = (prices: Priced["prices"], terms: PriceTerms, priceMinor = 0): Priced => ({ priceMinor, currency: "EUR", terms, prices });
    const shipped: PriceTerms = { kind: "shipped", shipping: 500 };
    // Free at home as well: nothing says what sending costs there.
    expect(priceIn(free({ USD: 0 }, shipped), "USD")).toBeUndefined();
    expect(currenciesOf(free({ USD: 0 }, shipped))).toEqual(["EUR"]);
    expect(currenciesWithout(free({ USD: 0 }, shipped))).toEqual(["USD"]);
    const said = free({ USD: 0 }, { ...shipped, elsewhere: { USD: 650 } });
    expect(dueIn(said, "USD")).toEqual({ price: 0, shipping: 650 });
    expect([currenciesOf(said), currenciesWithout(said)]).toEqual([["EUR", "USD"], []]);
    // Free there alone: in proportion that is nothing, and what is said counts.
    expect(dueIn(free({ USD: 0 }, shipped, 2_000), "USD")).toEqual({ price: 0, shipping: 0 });
    expect(dueIn(free({ USD: 0 }, { ...shipped, elsewhere: { USD: 650 } }, 2_000), "USD")).toEqual({ price: 0, shipping: 650 });
    expect(priceIn(free({ USD: 0 }, { kind: "open", floor: 100, elsewhere: { USD: 120 } }), "USD")!.terms).toMatchObject({ floor: 120 });
    expect(priceIn(free({ USD: 0 }, { kind: "open", floor: 0 }), "USD")!.terms).toMatchObject({ floor: 0 });
    // Another price of its own, in a currency in which it is free, is not that of its own currency.
    expect(dueIn(said, "USD", {}, 900)).toEqual({ price: 0, shipping: 650 });
  });
  it("in its own currency is itself, whatever its terms", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), fc.integer({ min: 1, max: 20 }), (minor, quantity) => {
        const product = { ...of(once), priceMinor: minor };
        expect(dueIn(product, "EUR", { quantity })!.price).toBe(minor * quantity);
        expect(dueIn(product, "USD", { quantity })!.price).toBe(2_400 * quantity);
      }),
    );
  });
});

describe("the right of withdrawal", () => {
  // Directive 2011/83/EU, art. 16 (m): value from memory of its text.
  it("is given up only by consumers of the European Union, and only for digital content", () => {
    expect(asksWaiver(["download"], "PT", false)).toBe(true);
    expect(asksWaiver(["shipped", "library"], "DE", false)).toBe(true);
    expect(asksWaiver(["shipped", "service"], "DE", false)).toBe(false);
    expect(asksWaiver(["download"], "US", false)).toBe(false);
    expect(asksWaiver(["download"], "PT", true)).toBe(false);
  });
});

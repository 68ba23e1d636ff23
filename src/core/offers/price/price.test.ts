import { allocate, dinero, toSnapshot } from "dinero.js";
import { EUR } from "dinero.js/currencies";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { split } from "../../money";
import {
  basisPoints,
  couponRefusal,
  discountsOf,
  dueOf,
  enoughEvidence,
  euCountries,
  freshTerms,
  isReverseCharge,
  leastFor,
  mayBeFree,
  priceTerms,
  priceWords,
  reverseCharged,
  shippedRates,
  strikable,
  taxed,
  vatNumber,
  wholeOf,
  type AskedPrice,
  type Coupon,
  type CouponUse,
  type PriceTerms,
} from "..";

const month = { unit: "month" as const, n: 1 };
const club: PriceTerms = { kind: "subscription", every: month, trialDays: 0, setup: 0, times: null };

describe("a price", () => {
  it("of several pieces is that of one so many times, whatever its terms", () => {
    const three = (terms: PriceTerms) => dueOf(terms, 1_000, { quantity: 3 });
    expect(three({ kind: "once" })).toEqual({ price: 3_000, shipping: 0 });
    expect(dueOf({ kind: "open", floor: 100 }, 1_000, { quantity: 3, named: 250 })).toEqual({ price: 750, shipping: 0 });
    expect(three({ kind: "instalments", parts: 3, every: month })).toEqual({
      price: 1_000,
      shipping: 0,
      later: { minor: 1_000, every: month, times: 2 },
    });
    expect(three({ ...club, setup: 200 })).toEqual({ price: 3_600, shipping: 0, later: { minor: 3_000, every: month, times: null } });
    // Sending costs once for all of them.
    const shipped = three({ kind: "shipped", shipping: 490 });
    expect(shipped).toEqual({ price: 3_000, shipping: 490 });
    expect(wholeOf(shipped)).toBe(3_490);
  });
  it("begins with terms of its kind that charge nothing unasked", () => {
    expect(freshTerms("once", 1_000)).toEqual({ kind: "once" });
    expect(freshTerms("open", 1_000)).toEqual({ kind: "open", floor: 0 });
    expect(freshTerms("shipped", 1_000)).toEqual({ kind: "shipped", shipping: 0 });
    expect(freshTerms("instalments", 1_000)).toEqual({ kind: "instalments", parts: 3, every: month });
    expect(freshTerms("subscription", 1_000)).toEqual(club);
    expect(freshTerms("tiers", 999)).toEqual({ kind: "tiers", tiers: [{ from: 5, minor: 799 }] });
    for (const kind of ["once", "open", "shipped", "instalments", "subscription", "tiers"] as const)
      expect(priceTerms.parse(freshTerms(kind, 1_000)).kind).toBe(kind);
  });
  it("may be nothing where the buyer names it or pays for the sending, and is never below its floor", () => {
    expect((["once", "open", "shipped", "instalments", "subscription", "tiers"] as const).filter(mayBeFree)).toEqual(["open", "shipped"]);
    expect([leastFor({ kind: "open", floor: 500 }), leastFor({ kind: "once" })]).toEqual([500, 0]);
    const tiers = (...from: number[]) => priceTerms.safeParse({ kind: "tiers", tiers: from.map((one) => ({ from: one, minor: 100 })) }).success;
    expect([tiers(2), tiers(2, 5), tiers(5, 5), tiers(5, 2)]).toEqual([true, true, false, false]);
  });
  it("is said in the words by which it is charged", () => {
    const said = (terms: PriceTerms, minor = 1_200) => priceWords(terms, minor, "EUR");
    expect(said({ kind: "open", floor: 0 })).toBe("pay what you want");
    expect(said({ kind: "open", floor: 500 })).toBe("pay what you want, €5.00 or more");
    expect(said({ kind: "instalments", parts: 3, every: month }, 2)).toBe("€0.02");
    expect(said({ kind: "instalments", parts: 2, every: month }, 1_201)).toBe("€6.01 now, then €6.00, one every month");
    expect(said({ kind: "instalments", parts: 3, every: month }, 1_000)).toBe("€3.34 now, then 2 times €3.33, one every month");
    expect(said({ kind: "instalments", parts: 3, every: { unit: "week", n: 2 } })).toBe("3 payments of €4.00, one every 2 weeks");
    expect(said(club)).toBe("€12.00 a month");
    const longer = { ...club, every: { unit: "month", n: 3 }, trialDays: 1, setup: 500, times: 4 } as PriceTerms;
    expect(said(longer)).toBe("€12.00 every 3 months, the first day free, €5.00 setup fee, 4 times");
    expect(said({ ...club, trialDays: 14 })).toBe("€12.00 a month, the first 14 days free");
    expect(said({ kind: "shipped", shipping: 490 }, 0)).toBe("free, plus €4.90 shipping");
    expect(said({ kind: "shipped", shipping: 490 })).toBe("€12.00 plus €4.90 shipping");
  });
  it("in instalments is paid whole, in parts that are equal but for the first", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1e7 }), fc.integer({ min: 2, max: 36 }), (minor, parts) => {
        const due = dueOf({ kind: "instalments", parts, every: month }, minor);
        expect(wholeOf(due, parts)).toBe(minor);
        const part = due.later?.minor ?? 0;
        expect(due.price - part).toBeLessThan(parts);
        expect(due.price).toBeGreaterThanOrEqual(part);
        // A payment of nothing is none.
        expect(due.later === undefined).toBe(minor < parts);
      }),
    );
    expect(priceWords({ kind: "instalments", parts: 3, every: month }, 10_000, "EUR")).toBe("€33.34 now, then 2 times €33.33, one every month");
    expect(priceWords({ kind: "instalments", parts: 4, every: { unit: "week", n: 2 } }, 10_000, "EUR")).toBe(
      "4 payments of €25.00, one every 2 weeks",
    );
  });
  it("of a subscription begins with its setup and after its trial, and ends where it says", () => {
    expect(dueOf(club, 1_200)).toEqual({ price: 1_200, shipping: 0, later: { minor: 1_200, every: month, times: null } });
    const trial = dueOf({ ...club, trialDays: 14, setup: 500, times: 6 }, 1_200);
    expect(trial).toEqual({ price: 500, shipping: 0, later: { minor: 1_200, every: month, times: 6, firstAfterDays: 14 } });
    expect(wholeOf(trial, 100)).toBe(500 + 6 * 1_200);
    expect(wholeOf(dueOf(club, 1_200), 6)).toBe(7_200);
    expect(priceWords({ ...club, trialDays: 14, setup: 500, times: 6 }, 1_200, "EUR")).toBe(
      "€12.00 a month, the first 14 days free, €5.00 setup fee, 6 times",
    );
  });
  it("by quantity is that of the step that is reached, for every piece", () => {
    const tiers: PriceTerms = {
      kind: "tiers",
      tiers: [
        { from: 5, minor: 900 },
        { from: 10, minor: 800 },
      ],
    };
    expect([1, 4, 5, 9, 10, 100].map((quantity) => dueOf(tiers, 1_000, { quantity }).price)).toEqual([1_000, 4_000, 4_500, 8_100, 8_000, 80_000]);
    expect(
      priceTerms.safeParse({
        kind: "tiers",
        tiers: [
          { from: 5, minor: 1 },
          { from: 5, minor: 1 },
        ],
      }).success,
    ).toBe(false);
    expect(priceWords(tiers, 1_000, "EUR")).toBe("€10.00 each, €9.00 from 5, €8.00 from 10");
  });
  it("that the buyer names is never below its least", () => {
    const open: PriceTerms = { kind: "open", floor: 500 };
    expect(dueOf(open, 1_500).price).toBe(1_500);
    expect(dueOf(open, 1_500, { named: 500 }).price).toBe(500);
    expect(() => dueOf(open, 1_500, { named: 499 })).toThrow(RangeError);
    expect(priceWords(open, 1_500, "EUR")).toBe("pay what you want, €5.00 or more");
  });
  it("of nothing plus sending says so", () => {
    expect(dueOf({ kind: "shipped", shipping: 695 }, 0)).toEqual({ price: 0, shipping: 695 });
    expect(priceWords({ kind: "shipped", shipping: 695 }, 0, "EUR")).toBe("free, plus €6.95 shipping");
  });
});

const coupon = (change: Partial<Coupon> = {}): Coupon => ({
  off: { kind: "percent", bp: 5_000 },
  products: null,
  from: null,
  until: null,
  uses: null,
  oncePerPerson: false,
  ...change,
});
const use: CouponUse = { at: new Date("2026-11-24T12:00:00Z"), used: 0, usedByPerson: 0, currency: "EUR", products: ["a", "b"] };

describe("a coupon", () => {
  // Common practice, no source: 99.90 at 8 % and 50 % off is 49.95 + 4.00 = 53.95.
  it("comes off before the tax: half off 99.90 at 8 % is 49.95 and 4.00", () => {
    const [off] = discountsOf(coupon(), [{ productId: "a", minor: 9_990 }], "EUR");
    expect(taxed(9_990 - off!, "exclusive", 800)).toEqual({ net: 4_995, tax: 400, gross: 5_395, rateBp: 800 });
  });
  it("never takes more than a line, nor more or less than its amount; as dinero.js divides it", () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 100_000 }), { minLength: 1, maxLength: 6 }),
        fc.integer({ min: 0, max: 200_000 }),
        (prices, amount) => {
          const lines = prices.map((minor, index) => ({ productId: `p${index}`, minor }));
          const sum = prices.reduce((a, b) => a + b, 0);
          const off = discountsOf(coupon({ off: { kind: "amount", minor: { EUR: amount } } }), lines, "EUR");
          expect(off.reduce((a, b) => a + b, 0)).toBe(Math.min(amount, sum));
          off.forEach((part, index) => expect(part >= 0 && part <= prices[index]!).toBe(true));
          // Another library may give a left-over cent to another part, never more than that.
          const theirs = allocate(dinero({ amount: Math.min(amount, sum), currency: EUR }), prices).map((part) => toSnapshot(part).amount);
          expect(theirs.reduce((a, b) => a + b, 0)).toBe(Math.min(amount, sum));
          theirs.forEach((part, index) => expect(Math.abs(part - off[index]!)).toBeLessThanOrEqual(1));
        },
      ),
    );
    expect(allocate(dinero({ amount: 100, currency: EUR }), [1, 1, 1]).map((part) => toSnapshot(part).amount)).toEqual(split(100, [1, 1, 1]));
  });
  it("of a share leaves no line below zero, and covers only what it names", () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 1e6 }), { maxLength: 5 }), fc.integer({ min: 0, max: 10_000 }), (prices, bp) => {
        const off = discountsOf(
          coupon({ off: { kind: "percent", bp }, products: ["p0"] }),
          prices.map((minor, index) => ({ productId: `p${index}`, minor })),
          "EUR",
        );
        off.forEach((part, index) => expect(part >= 0 && part <= (index === 0 ? prices[0]! : 0)).toBe(true));
      }),
    );
  });
  it("of a share is rounded by line, half away from zero", () => {
    const off = discountsOf(
      coupon({ off: { kind: "percent", bp: 1_250 } }),
      [9_996, 9_995, 4].map((minor) => ({ productId: "a", minor })),
      "EUR",
    );
    // 1,249.5, 1,249.375 and 0.5 cents.
    expect(off).toEqual([1_250, 1_249, 1]);
  });
  it("holds in its window, as often as it may, once for a person, in its currency and for its products", () => {
    expect(couponRefusal(coupon(), use)).toBeUndefined();
    expect(couponRefusal(coupon({ from: new Date(use.at.getTime() + 1) }), use)).toBe("not_yet");
    expect(couponRefusal(coupon({ from: use.at, until: new Date(use.at.getTime() + 1) }), use)).toBeUndefined();
    expect(couponRefusal(coupon({ until: use.at }), use)).toBe("over");
    expect(couponRefusal(coupon({ uses: 3 }), { ...use, used: 2 })).toBeUndefined();
    expect(couponRefusal(coupon({ uses: 3 }), { ...use, used: 3 })).toBe("used_up");
    expect(couponRefusal(coupon({ oncePerPerson: true }), { ...use, usedByPerson: 1 })).toBe("used_by_person");
    expect(couponRefusal(coupon({ off: { kind: "amount", minor: { USD: 500 } } }), use)).toBe("other_currency");
    expect(couponRefusal(coupon({ products: ["c"] }), use)).toBe("other_products");
  });
});

const on = (day: string): Date => new Date(`${day}T00:00:00Z`);
const history = (...asked: [string, number][]): AskedPrice[] => asked.map(([day, minor]) => ({ from: on(day), minor }));

describe("the price that is struck through", () => {
  // Directive 98/6/EC art. 6a; the cases follow the Commission's guidance of 2021 (OJ C 526), values from memory.
  it("is the lowest of the 30 days before the reduction, not the one just before it", () => {
    expect(strikable(history(["2026-01-01", 10_000], ["2026-03-01", 8_000], ["2026-03-08", 10_000], ["2026-03-20", 7_000]), on("2026-03-21"))).toBe(
      8_000,
    );
    expect(strikable(history(["2026-01-01", 10_000], ["2026-03-20", 7_000]), on("2026-03-21"))).toBe(10_000);
  });
  it("is none where the price was lower within the 30 days, was never reduced, or is too young", () => {
    expect(
      strikable(history(["2026-01-01", 10_000], ["2026-03-01", 7_000], ["2026-03-08", 10_000], ["2026-03-20", 7_000]), on("2026-03-21")),
    ).toBeUndefined();
    expect(strikable(history(["2026-01-01", 7_000]), on("2026-03-21"))).toBeUndefined();
    expect(strikable(history(["2026-01-01", 7_000], ["2026-03-01", 10_000]), on("2026-03-21"))).toBeUndefined();
    expect(strikable(history(["2026-03-10", 10_000], ["2026-03-20", 7_000]), on("2026-03-21"))).toBeUndefined();
    expect(strikable([], on("2026-03-21"))).toBeUndefined();
  });
  it("counts a price that was in force when the 30 days began, and forgets one that ended before", () => {
    expect(strikable(history(["2026-01-01", 6_000], ["2026-02-10", 10_000], ["2026-03-20", 7_000]), on("2026-03-20"))).toBe(10_000);
    expect(strikable(history(["2026-01-01", 6_000], ["2026-02-20", 10_000], ["2026-03-20", 7_000]), on("2026-03-20"))).toBeUndefined();
  });
  it("counts from the first instant of the reduction, though the same price was set once more since", () => {
    const twice = history(["2026-01-01", 9_000], ["2026-02-12", 10_000], ["2026-03-10", 7_000], ["2026-03-20", 7_000]);
    expect(strikable(twice, on("2026-03-21"))).toBe(9_000);
  });
  it("is always dearer than the present price, and one that was asked", () => {
    const asked = fc.array(
      fc.record({ from: fc.integer({ min: 0, max: 200 }).map((n) => new Date(n * 86_400_000)), minor: fc.integer({ min: 1, max: 50 }) }),
      { minLength: 1, maxLength: 8 },
    );
    fc.assert(
      fc.property(asked, (list) => {
        const found = strikable(list, new Date(300 * 86_400_000));
        const present = [...list].sort((a, b) => a.from.getTime() - b.from.getTime()).at(-1)!.minor;
        if (found !== undefined) expect(found > present && list.some(({ minor }) => minor === found)).toBe(true);
      }),
    );
  });
});

describe("where a buyer is", () => {
  it("is shown by two pieces of evidence that agree (Implementing Regulation (EU) 282/2011, art. 24b, 24f)", () => {
    expect(
      enoughEvidence(
        [
          { kind: "billing", country: "PT" },
          { kind: "card", country: "PT" },
        ],
        "PT",
      ),
    ).toBe(true);
    expect(
      enoughEvidence(
        [
          { kind: "billing", country: "PT" },
          { kind: "card", country: "ES" },
        ],
        "PT",
      ),
    ).toBe(false);
    expect(
      enoughEvidence(
        [
          { kind: "billing", country: "PT" },
          { kind: "billing", country: "PT" },
        ],
        "PT",
      ),
    ).toBe(false);
  });
  it("and a VAT number of that country make the buyer account for the tax, in another member state than the vendor's", () => {
    expect(vatNumber("de 123.456.788", "DE")).toBe("DE123456788");
    expect(vatNumber("123456783", "GR")).toBe("EL123456783");
    // The shape is right, the check digit is not.
    expect(vatNumber("DE123456789", "DE")).toBeUndefined();
    expect(vatNumber("EL123456789", "GR")).toBeUndefined();
    expect(vatNumber("DE12345", "DE")).toBeUndefined();
    expect(vatNumber("PT123456789", "US")).toBeUndefined();
    expect(isReverseCharge("DE123456788", "DE", "PT")).toBe(true);
    expect(isReverseCharge("PT123456789", "PT", "PT")).toBe(false);
    expect(isReverseCharge("PT123456789", "DE", "PT")).toBe(false);
    expect(isReverseCharge(undefined, "DE", "PT")).toBe(false);
    expect(isReverseCharge("GB123456789", "GB", "PT")).toBe(false);
  });
  it("decides the rate: every standard rate of a member state is 15 % or more (Directive 2006/112/EC, art. 97), none is twice on a day", () => {
    const states = shippedRates.filter(([country, taxClass]) => taxClass === "standard" && euCountries.has(country));
    expect(new Set(states.map(([country]) => country))).toEqual(euCountries);
    for (const [country, , rate] of states) expect(rate, country).toBeGreaterThanOrEqual(1_500);
    expect(new Set(shippedRates.map(([country, taxClass, , from]) => `${country} ${taxClass} ${from}`)).size).toBe(shippedRates.length);
    for (const [country, taxClass, rate] of shippedRates.filter(([, of]) => of === "reduced"))
      expect(rate, country).toBeLessThan(shippedRates.find(([other, of]) => other === country && of !== taxClass)![2]);
    expect(["23", " 5,5", "25.5"].map(basisPoints)).toEqual([2_300, 550, 2_550]);
  });
  it("and an account of their own leave the net alone to pay", () => {
    expect(reverseCharged(taxed(14_900, "inclusive", 1_900))).toEqual({ net: 12_521, tax: 0, gross: 12_521, rateBp: 0 });
    expect(reverseCharged(taxed(9_990, "exclusive", 800))).toEqual({ net: 9_990, tax: 0, gross: 9_990, rateBp: 0 });
  });
});

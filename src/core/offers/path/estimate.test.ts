import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  assumedAt,
  averageTaxBp,
  commissionShare,
  conversionOf,
  downsellPrice,
  dueOf,
  emptyPath,
  estimate,
  insertBefore,
  isTried,
  measuredAt,
  noTrial,
  pathEnd,
  paymentsOf,
  saleOf,
  taxed,
  usualFixedFee,
  usualTake,
  type EstimatedProduct,
  type EstimateFacts,
  type PriceTerms,
} from "..";

const month = { unit: "month" as const, n: 1 };
const product = (id: string, priceMinor: number, terms: PriceTerms = { kind: "once" }, taxMode: "inclusive" | "exclusive" = "inclusive") =>
  ({ id, priceMinor, currency: "EUR", terms, taxMode }) satisfies EstimatedProduct;
const nothingOff = { commission: 0, refunds: 0, feeBp: 0, feeFixed: 0 };
const facts = (change: Partial<EstimateFacts> = {}): EstimateFacts => ({
  path: emptyPath,
  main: product("main", 14_900),
  products: [],
  bumps: [],
  taxBp: 0,
  deductions: nothingOff,
  conversion: 0.02,
  assumed: {},
  figures: { paid: 0, steps: {}, bumps: {} },
  ...change,
});

describe("a price that is tried out", () => {
  it("is what the checkout would charge for it: setup and all that stands beside it stay as they are", () => {
    const club = product("club", 1_200, { kind: "subscription", every: month, trialDays: 0, setup: 5_000, times: null });
    // 50 for the setup and 12 a month, tried at 24: 74 now, not 124.
    expect(saleOf(facts(), club, 2_400, true).pays).toBe(7_400);
    const sent = product("sent", 2_000, { kind: "shipped", shipping: 500 });
    expect(saleOf(facts(), sent, 4_000, true).pays).toBe(4_500);
    const free = product("free", 0, { kind: "shipped", shipping: 500 });
    expect([saleOf(facts(), free, 0, true).pays, saleOf(facts(), free, 900, true).pays]).toEqual([500, 1_400]);
    const plus = product("plus", 9_990, { kind: "once" }, "exclusive");
    // Common practice: 99.90 at 8 % is 107.89.
    expect(saleOf(facts({ taxBp: 800 }), plus, 9_990, true)).toEqual({ pays: 10_789, keeps: 9_990 });
  });
  it("agrees with the lines of a checkout, whatever its terms, tax and price", () => {
    const terms = fc.oneof(
      fc.constant<PriceTerms>({ kind: "once" }),
      fc.record({ kind: fc.constant("shipped" as const), shipping: fc.nat({ max: 5_000 }) }),
      fc.record({ kind: fc.constant("instalments" as const), parts: fc.integer({ min: 2, max: 12 }), every: fc.constant(month) }),
      fc.record({
        kind: fc.constant("subscription" as const),
        every: fc.constant(month),
        trialDays: fc.constantFrom(0, 14),
        setup: fc.nat({ max: 9_000 }),
        times: fc.option(fc.integer({ min: 2, max: 12 })),
      }),
    );
    fc.assert(
      fc.property(
        terms,
        fc.nat({ max: 100_000 }),
        fc.constantFrom("inclusive" as const, "exclusive" as const),
        fc.nat({ max: 2_700 }),
        (of, minor, mode, bp) => {
          const due = dueOf(of, minor);
          const lines = [due.price, due.shipping].map((amount) => taxed(amount, mode, bp));
          const sale = saleOf(facts({ taxBp: bp }), product("p", 1, of, mode), minor, true);
          expect(sale.pays).toBe(lines.reduce((sum, { gross }) => sum + gross, 0));
          const one = product("p", minor, of, mode);
          const later = due.later ? paymentsOf(facts(), one) * taxed(due.later.minor, mode, bp).net : 0;
          expect(sale.keeps).toBeCloseTo(lines.reduce((sum, { net }) => sum + net, 0) + later, 6);
        },
      ),
    );
  });
});

describe("the fixed part of the processor's fee", () => {
  const feeFixed = 25;
  const bump = (id: string, take: number) => ({ id, take, minor: 1_700 });
  const of = (main: number, bumps: ReturnType<typeof bump>[], offers = 0) => {
    const path = Array.from({ length: offers }, (_, n) => `o${n}`).reduce(
      (before, id) => insertBefore(before, pathEnd, { id, kind: "offer", productId: id, pageId: id, sure: false }),
      emptyPath,
    );
    return estimate(
      facts({
        path,
        main: product("main", main),
        products: [...bumps.map(({ id, minor }) => product(id, minor)), ...path.steps.map(({ id }) => product(id, 6_700))],
        bumps: bumps.map(({ id }) => id),
        deductions: { ...nothingOff, feeFixed },
        assumed: {
          take: Object.fromEntries<number>([
            ...bumps.map(({ id, take }): [string, number] => [id, take]),
            ...path.steps.map(({ id }): [string, number] => [id, 0.5]),
          ]),
        },
      }),
      path,
      noTrial,
      false,
    );
  };
  it("is taken once for the checkout with its bumps, which are one charge, and once for each offer", () => {
    expect(of(14_900, [bump("a", 1), bump("b", 1)]).keeps).toBe(14_900 + 2 * 1_700 - feeFixed);
    expect(of(14_900, [], 1).keeps).toBeCloseTo(14_900 - feeFixed + 0.5 * (6_700 - feeFixed), 9);
  });
  it("is taken of a free checkout only where a bump makes it a charge", () => {
    const free = of(0, [bump("a", 0.5), bump("b", 0.5)]);
    expect(free.keeps).toBeCloseTo(1_700 - 0.75 * feeFixed, 9);
    // One more point of a bump costs the fee only where no other bump has brought it.
    expect(free.levers.find(({ id }) => id === "a")!.onePoint.keeps).toBeCloseTo((1_700 - 0.5 * feeFixed) / 100, 9);
    expect(of(0, []).keeps).toBe(0);
  });
  it("begins at what is usual in the currency, in its own minor units", () => {
    expect([usualFixedFee("EUR"), usualFixedFee("JPY"), usualFixedFee("KWD"), usualFixedFee("SEK")]).toEqual([25, 30, 75, 25]);
  });
});

describe("what is estimated before and after the first sale", () => {
  it("is assumed until it is measured", () => {
    expect(averageTaxBp({ gross: 0, net: 0 }, 2_700)).toBe(2_700);
    expect(averageTaxBp({ gross: 12_300, net: 10_000 }, 2_700)).toBe(2_300);
    expect([
      commissionShare({ net: 0, commission: 0 }),
      commissionShare({ net: 10_000, commission: 4_000 }),
      commissionShare({ net: 1, commission: 1 }, 0.3),
    ]).toEqual([0, 0.4, 0.3]);
    expect([conversionOf({ paid: 0, sawSales: 0 }), conversionOf({ paid: 3, sawSales: 60 }), conversionOf({ paid: 3, sawSales: 60 }, 0.1)]).toEqual([
      0.02, 0.05, 0.1,
    ]);
  });
  it("of a downsell is a fifth off, in whole units, and always less than the offer", () => {
    expect([downsellPrice(6_700, "EUR"), downsellPrice(1_000, "JPY"), downsellPrice(500, "KWD"), downsellPrice(90, "EUR")]).toEqual([
      5_300, 800, 400, 72,
    ]);
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 1e8 }),
        fc.constantFrom("EUR", "JPY", "KWD"),
        (minor, currency) => void expect(downsellPrice(minor, currency)).toBeLessThan(minor),
      ),
    );
  });
  it("of later payments is as many as there are, or four of a subscription without an end", () => {
    const of = (terms: PriceTerms, assumed = {}) => paymentsOf({ assumed }, product("p", 1_200, terms));
    const sub = (times: number | null, trialDays = 0): PriceTerms => ({ kind: "subscription", every: month, trialDays, setup: 0, times });
    expect([of({ kind: "once" }), of({ kind: "instalments", parts: 3, every: month }), of(sub(6)), of(sub(6, 14)), of(sub(null))]).toEqual([
      0, 2, 5, 6, 4,
    ]);
    expect(of(sub(null), { payments: { p: 9 } })).toBe(9);
  });
});

describe("rates of a step or a bump", () => {
  const path = insertBefore(emptyPath, pathEnd, { id: "a", kind: "offer", productId: "x", pageId: "g", sure: false });
  const down = insertBefore(path, pathEnd, { id: "b", kind: "downsell", productId: "y", pageId: "h", sure: false });
  const measured = facts({
    path: down,
    bumps: ["paper"],
    figures: { paid: 412, steps: { a: { yes: 31, no: 69, here: 5 } }, bumps: { paper: 120 } },
  });
  it("are measured of those who answered, a bump's of all who paid", () => {
    expect(measuredAt(measured, "a")).toEqual({ yes: 31, of: 100 });
    expect(measuredAt(measured, "b")).toEqual({ yes: 0, of: 0 });
    expect(measuredAt(measured, "paper")).toEqual({ yes: 120, of: 412 });
    expect(measuredAt({ ...measured, figures: { ...measured.figures, bumps: {} } }, "paper")).toEqual({ yes: 0, of: 412 });
  });
  it("are assumed as usual for their kind where nothing was typed", () => {
    expect(["a", "b", "paper", "gone"].map((id) => assumedAt(measured, id))).toEqual([
      usualTake.offer,
      usualTake.downsell,
      usualTake.bump,
      usualTake.offer,
    ]);
    expect(new Set(Object.values(usualTake)).size).toBe(3);
    expect(assumedAt({ ...measured, assumed: { take: { a: 0.4 } } }, "a")).toBe(0.4);
    expect(assumedAt({ ...measured, assumed: { take: { a: 0.4 } } }, "b")).toBe(usualTake.downsell);
  });
  it("are tried out once one of them, or a price, is another", () => {
    expect([isTried(noTrial), isTried({ take: { a: undefined }, priceMinor: { b: undefined } })]).toEqual([false, false]);
    expect([isTried({ take: { a: undefined, b: 0 }, priceMinor: {} }), isTried({ take: {}, priceMinor: { a: 0 } })]).toEqual([true, true]);
  });
});

import fc from "fast-check";
import { inverse, Matrix } from "ml-matrix";
import { describe, expect, it } from "vitest";
import {
  absorbingChain,
  economicsOf,
  emptyPath,
  expectedPayments,
  insertBefore,
  insertOn,
  pathEnd,
  estimatedRate,
  simulate,
  saleEconomics,
  type EconomicsInput,
  type OfferPath,
} from "..";

describe("an absorbing chain", () => {
  // Grinstead & Snell, Introduction to Probability, examples 11.14 and 11.15: the drunkard's walk on 0 to 4.
  const walk = {
    among: [
      [0, 0.5, 0],
      [0.5, 0, 0.5],
      [0, 0.5, 0],
    ],
    into: [
      [0.5, 0],
      [0, 0],
      [0, 0.5],
    ],
  };
  it("is the drunkard's walk of the textbook: 3, 4 and 3 steps, home with ¾, ½ and ¼", () => {
    const { visits, ends } = absorbingChain(walk.among, walk.into);
    visits.forEach((row, i) => expect(row.reduce((a, b) => a + b, 0)).toBeCloseTo([3, 4, 3][i]!, 12));
    ends.forEach(([home, bar], i) => {
      expect(home).toBeCloseTo([0.75, 0.5, 0.25][i]!, 12);
      expect(bar).toBeCloseTo([0.25, 0.5, 0.75][i]!, 12);
    });
  });
  it("agrees with a linear-algebra library on any chain that ends", () => {
    const chain = fc
      .integer({ min: 1, max: 8 })
      .chain((n) =>
        fc.array(fc.array(fc.double({ min: 0.01, max: 1, noNaN: true }), { minLength: n + 1, maxLength: n + 1 }), { minLength: n, maxLength: n }),
      );
    fc.assert(
      fc.property(chain, (rows) => {
        const shares = rows.map((row) => row.map((value) => value / row.reduce((a, b) => a + b, 0)));
        const among = shares.map((row) => row.slice(0, -1));
        const theirs = inverse(Matrix.sub(Matrix.eye(among.length), new Matrix(among))).to2DArray();
        absorbingChain(
          among,
          shares.map((row) => row.slice(-1)),
        ).visits.forEach((row, i) => row.forEach((value, j) => expect(value).toBeCloseTo(theirs[i]![j]!, 6)));
      }),
    );
  });
  it("from which no end is ever reached is refused", () => expect(() => absorbingChain([[1]], [[0]])).toThrow(RangeError));
  it("of a subscription is its expected number of payments: a state that leads back to itself", () => {
    expect(absorbingChain([[0.8]], [[0.2]]).visits[0]![0]).toBeCloseTo(expectedPayments(0.8), 12);
    expect(expectedPayments(0.8, 3)).toBeCloseTo(1 + 0.8 + 0.64, 12);
    expect(expectedPayments(1, 12)).toBe(12);
  });
});

const economics = (pays: number, keeps = pays) => ({ pays, keeps });
const made = (id: string) => ({ id, kind: "offer" as const, productId: id, pageId: id, sure: false });
const line = (n: number): OfferPath =>
  Array.from({ length: n }, (_, i) => `s${i}`).reduce((path, id) => insertBefore(path, pathEnd, made(id)), emptyPath);
const input = (path: OfferPath, change: Partial<EconomicsInput> = {}): EconomicsInput => ({
  path,
  front: economics(14_900, 9_000),
  bumps: [],
  steps: {},
  checkoutFee: 0,
  conversion: 0.04,
  ...change,
});

const chance = fc.double({ min: 0, max: 0.98, noNaN: true });
const anyInput: fc.Arbitrary<EconomicsInput> = fc
  .record({
    where: fc.array(fc.tuple(fc.nat(9), fc.constantFrom("yes" as const, "no" as const)), { maxLength: 7 }),
    takes: fc.array(chance, { minLength: 8, maxLength: 8 }),
    prices: fc.array(fc.integer({ min: 1, max: 99_900 }), { minLength: 8, maxLength: 8 }),
    bumps: fc.array(fc.record({ take: chance, pays: fc.integer({ min: 1, max: 5_000 }) }), { maxLength: 3 }),
  })
  .map(({ where, takes, prices, bumps }) => {
    const path = where.reduce<OfferPath>((before, [index, rail], n) => {
      const at = before.steps[index % Math.max(1, before.steps.length)];
      return insertOn(before, at ? { from: at.id, rail } : { from: "checkout" }, made(`s${n}`));
    }, emptyPath);
    return input(path, {
      steps: Object.fromEntries(path.steps.map(({ id }, i) => [id, { take: takes[i]!, economics: economics(prices[i]!, prices[i]! * 0.6) }])),
      bumps: bumps.map(({ take, pays }, i) => ({ id: `b${i}`, take, economics: economics(pays, pays * 0.7) })),
    });
  });

describe("what a path earns", () => {
  it("is the average of common practice: 100 orders of 19 with a 997 offer taken once are 28.97 each", () => {
    // Common practice, no source: 1,900 + 997 from a hundred orders.
    const path = line(1);
    const { pays, distribution } = economicsOf(input(path, { front: economics(1_900), steps: { s0: { take: 0.01, economics: economics(99_700) } } }));
    expect(pays).toBeCloseTo(2_897, 9);
    expect(distribution.map(({ pays: value, chance: of }) => [value, Number((of * 100).toFixed(9))])).toEqual([
      [1_900, 99],
      [101_600, 1],
    ]);
  });
  it("is a distribution whose chances add up to one, with the mean it says; and so do its ends", () => {
    fc.assert(
      fc.property(anyInput, (one) => {
        const { distribution, pays, ends, deviation } = economicsOf(one);
        expect(distribution.reduce((sum, { chance: of }) => sum + of, 0)).toBeCloseTo(1, 9);
        expect(Object.values(ends).reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
        expect(distribution.reduce((sum, { pays: value, chance: of }) => sum + value * of, 0)).toBeCloseTo(pays, 6);
        expect(deviation).toBeGreaterThanOrEqual(0);
      }),
    );
  });
  it("changes with one more point at a step by just what its lever says", () => {
    fc.assert(
      fc.property(anyInput, fc.nat(6), (one, index) => {
        const id = one.path.steps[index % Math.max(1, one.path.steps.length)]?.id;
        if (id === undefined) return;
        const before = economicsOf(one);
        const after = economicsOf({ ...one, steps: { ...one.steps, [id]: { ...one.steps[id]!, take: one.steps[id]!.take + 0.01 } } });
        const lever = before.levers.find((each) => each.id === id)!;
        expect(after.keeps - before.keeps).toBeCloseTo(lever.onePoint.keeps, 5);
        expect(after.pays - before.pays).toBeCloseTo(lever.onePoint.pays, 5);
      }),
    );
  });
  it("is what simulated buyers pay, within the error of the sample", () => {
    // A fixed seed: 5 standard errors would be missed once in a million and a half runs.
    fc.assert(
      fc.property(anyInput, (one) => {
        const exact = economicsOf(one);
        const seen = simulate(one, 20_000, 7);
        expect(Math.abs(seen.pays - exact.pays)).toBeLessThanOrEqual(
          (5 / 1.96) * Math.max(seen.within, (1.96 * exact.deviation) / Math.sqrt(20_000)) + 1e-6,
        );
        expect(simulate(one, 200, 3)).toEqual(simulate(one, 200, 3));
      }),
      { numRuns: 25, seed: 20_261_124 },
    );
  });
  it("per visitor is the order times those who buy, and is what a click may cost", () => {
    const { perVisitor, keeps } = economicsOf(input(line(0)));
    expect(keeps).toBe(9_000);
    expect(perVisitor.keeps).toBeCloseTo(360, 9);
  });
  it("of a path in a circle is refused", () => {
    const circle: OfferPath = { first: "a", steps: [{ ...made("a"), yesTo: "a", noTo: "a" }] };
    expect(() => economicsOf(input(circle))).toThrow(RangeError);
    expect(() => simulate(input(circle), 1, 1)).toThrow(RangeError);
  });
  it("of one sale is its net less commission and refunds, and less fees that are not given back", () => {
    const terms = { net: 10_000, gross: 12_300, feeBp: 150, feeFixed: 25, commissionBp: 4_000, refundBp: 500, payments: 1 };
    expect(saleEconomics(terms)).toEqual({ pays: 12_300, keeps: 10_000 * 0.6 * 0.95 - 184.5 - 25 });
    expect(saleEconomics({ ...terms, payments: 6 }).keeps).toBeCloseTo(6 * (5_700 - 209.5), 9);
  });
});

describe("a take rate", () => {
  it("is the assumed one until something is measured, and the measured one in the end", () => {
    expect(estimatedRate(0.2, { yes: 0, of: 0 })).toBe(0.2);
    expect(estimatedRate(0.2, { yes: 18, of: 83 })).toBeCloseTo(22 / 103, 12);
    expect(estimatedRate(0.2, { yes: 50_000, of: 100_000 })).toBeCloseTo(0.5, 3);
  });
});

import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { feesOf, itemOf, lineWords, totalOf, withParts } from "..";

const month = { unit: "month" as const, n: 1 };

describe("a line of a charge", () => {
  it("says of itself only what is so: no discount of nothing, no quantity of one", () => {
    const taxed = { net: 1_382, gross: 1_700, tax: 318, rateBp: 2_300 };
    const plain = { productId: "p", role: "front", gross: 1_700, tax: 318, rateBp: 2_300 };
    expect(itemOf("p", "front", taxed)).toEqual(plain);
    expect(itemOf("p", "front", taxed, { discount: 0, quantity: 1 })).toEqual(plain);
    const later = { minor: 1_200, every: month, times: null };
    expect(itemOf("p", "front", taxed, { discount: 1, quantity: 2, later })).toEqual({ ...plain, discount: 1, quantity: 2, later });
  });
  it("names what its bundle holds behind its own name", () => {
    expect(withParts([])).toBeUndefined();
    expect(withParts([{ name: "Charts" }, { name: "Paper" }])).toBe("with Charts, Paper");
    expect(lineWords({ name: "The Workshop", contents: [] })).toBe("The Workshop");
    expect(lineWords({ name: "The Box", contents: [{ name: "Charts" }] })).toBe("The Box, with Charts");
  });
  it("adds up to the charge, tax beside it", () => {
    expect(totalOf([])).toEqual({ gross: 0, tax: 0 });
    expect(
      totalOf([
        { gross: 14_900, tax: 2_786 },
        { gross: 1_700, tax: 318 },
      ]),
    ).toEqual({ gross: 16_600, tax: 3_104 });
  });
  it("bears its share of the processor's fee by what it cost, the first all of it where nothing was paid", () => {
    expect(feesOf([{ gross: 14_900 }, { gross: 0 }, { gross: 1_700 }], 274)).toEqual([246, 0, 28]);
    expect(feesOf([{ gross: 0 }, { gross: 0 }], 30)).toEqual([30, 0]);
    const lines = fc.array(fc.record({ gross: fc.nat(1_000_000) }), { minLength: 1, maxLength: 8 });
    fc.assert(fc.property(lines, fc.nat(10_000), (items, fee) => feesOf(items, fee).reduce((a, b) => a + b, 0) === fee));
  });
});

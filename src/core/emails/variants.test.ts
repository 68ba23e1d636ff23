import fc from "fast-check";
import { expect, it } from "vitest";
import { emailVariantOf, mayVary, variantKey } from ".";

const people = Array.from({ length: 4_000 }, (_, n) => `person-${n}`);
const shareOfB = (email: string, A: number, B: number) =>
  people.filter((person) => emailVariantOf(email, person, { A, B }) === "B").length / people.length;

it("is the same for a person whenever it is asked, and another's does not hang on it", () => {
  fc.assert(
    fc.property(fc.uuid(), fc.uuid(), fc.integer({ min: 0, max: 100 }), (email, person, b) => {
      const weights = { A: 100 - b, B: b };
      expect(emailVariantOf(email, person, weights)).toBe(emailVariantOf(email, person, weights));
    }),
  );
});

it("goes to as many as its weight says, and to nobody or everybody at the ends", () => {
  expect(shareOfB("e", 100, 0)).toBe(0);
  expect(shareOfB("e", 0, 100)).toBe(1);
  expect(shareOfB("e", 0, 0)).toBe(0);
  // Four standard deviations of a binomial share of 4,000.
  for (const b of [10, 50, 80])
    expect(Math.abs(shareOfB("e", 100 - b, b) - b / 100)).toBeLessThan(4 * Math.sqrt(((b / 100) * (1 - b / 100)) / people.length));
});

it("of one email says nothing of another's", () => {
  const both = people.filter((person) => (["x", "y"] as const).every((email) => emailVariantOf(email, person, { A: 1, B: 1 }) === "B")).length;
  expect(Math.abs(both / people.length - 0.25)).toBeLessThan(0.03);
});

it("has a key of its own, and there is none of a receipt", () => {
  expect([variantKey("doors-open"), variantKey("doors-open~b")]).toEqual(["doors-open~b", "doors-open~b"]);
  expect([mayVary("bell"), mayVary("once"), mayVary("welcome"), mayVary("receipt"), mayVary("confirm")]).toEqual([true, true, true, false, false]);
});

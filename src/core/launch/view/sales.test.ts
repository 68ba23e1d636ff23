import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { soldAt } from "./sales";

const growth = fc
  .array(fc.record({ after: fc.integer({ min: 0, max: 500 }), more: fc.integer({ min: 1, max: 9 }) }), { maxLength: 40 })
  .map((steps) => {
    let [at, sold] = [0, 0];
    return steps.map(({ after, more }) => ({ at: (at += after), sold: (sold += more) }));
  });

describe("how many had been sold by an instant", () => {
  it("is what a walk through all steps finds, ties and the instant itself included", () => {
    fc.assert(
      fc.property(growth, fc.integer({ min: -10, max: 21_000 }), (steps, ms) => {
        const walked = steps.filter(({ at }) => at <= ms).at(-1)?.sold ?? 0;
        expect(soldAt({ at: steps.map(({ at }) => at), sold: steps.map(({ sold }) => sold) }, ms)).toBe(walked);
      }),
    );
  });
  it("never falls", () => {
    fc.assert(
      fc.property(growth, fc.nat(21_000), fc.nat(500), (steps, ms, later) => {
        const history = { at: steps.map(({ at }) => at), sold: steps.map(({ sold }) => sold) };
        expect(soldAt(history, ms + later)).toBeGreaterThanOrEqual(soldAt(history, ms));
      }),
    );
  });
});

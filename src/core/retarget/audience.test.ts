import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { stages, type Stage } from "../events";
import { audiences, belongs } from ".";

const anyOne = fc.record(
  Object.fromEntries(stages.map((stage) => [stage, fc.option(fc.date({ noInvalidDate: true }))])) as Record<Stage, fc.Arbitrary<Date | null>>,
);

describe("the audiences", () => {
  it("hold who reached one stage and not the other", () => {
    const [looked, unfinished] = audiences;
    const at = new Date();
    expect(belongs(looked!, { saw_sales: at })).toBe(true);
    expect(belongs(looked!, { saw_sales: at, began_checkout: at })).toBe(false);
    expect(belongs(unfinished!, { began_checkout: at })).toBe(true);
    expect(belongs(unfinished!, { began_checkout: at, paid: at })).toBe(false);
    expect(belongs(unfinished!, {})).toBe(false);
  });
  it("never share a person", () => {
    fc.assert(fc.property(anyOne, (first) => void expect(audiences.filter((audience) => belongs(audience, first)).length).toBeLessThanOrEqual(1)));
  });
});

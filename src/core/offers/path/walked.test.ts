import { describe, expect, it } from "vitest";
import { pathEnd, walkedSteps, type OfferPath, type PathStep, type SameWalk } from "..";

const step = (id: string, yesTo: string, noTo: string): PathStep => ({
  id,
  kind: "offer",
  productId: `p-${id}`,
  pageId: `g-${id}`,
  sure: false,
  yesTo,
  noTo,
});
const path: OfferPath = { first: "a", steps: [step("a", pathEnd, "b"), step("b", pathEnd, pathEnd)] };

describe("what came of the steps of a path", () => {
  it("counts each answer where it was given, and who stands before a step without one", () => {
    const walks: SameWalk[] = [
      { version: 1, answers: {}, orders: 4 },
      { version: 1, answers: { a: "yes" }, orders: 10 },
      { version: 1, answers: { a: "no" }, orders: 3 },
      { version: 1, answers: { a: "no", b: "yes" }, orders: 2 },
      { version: 1, answers: { a: "no", b: "no" }, orders: 1 },
    ];
    expect(walkedSteps(walks, new Map([[1, path]]))).toEqual({ a: { yes: 10, no: 6, here: 4 }, b: { yes: 2, no: 1, here: 3 } });
  });
  it("adds versions up, and knows of no step that a version did not have", () => {
    const before: OfferPath = { first: "b", steps: [step("b", pathEnd, pathEnd)] };
    const walks: SameWalk[] = [
      { version: 1, answers: {}, orders: 5 },
      { version: 2, answers: { a: "no" }, orders: 1 },
      { version: 7, answers: {}, orders: 9 },
    ];
    const paths = new Map([
      [1, before],
      [2, path],
    ]);
    expect(walkedSteps(walks, paths)).toEqual({ a: { yes: 0, no: 1, here: 0 }, b: { yes: 0, no: 0, here: 6 } });
    expect(walkedSteps([], paths)).toEqual({});
  });
});

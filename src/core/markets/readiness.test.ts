import { describe, expect, it } from "vitest";
import { listingStates, readiness, submitRefusal, type ListingFacts } from ".";

const terms = { name: "A market", picture: { minWidth: 600, minHeight: 400, maxBytes: 1024 }, minRefundDays: 14, maxRefundDays: 30, feeBp: 790 };
const facts: ListingFacts = {
  picture: { width: 600, height: 400, bytes: 1024 },
  refundDays: 30,
  termsAcceptedAt: new Date(),
  testOrderAt: new Date(),
  checkoutPublished: true,
};
const status = (change: Partial<ListingFacts>) =>
  Object.fromEntries(readiness(terms, { ...facts, ...change }).map(({ rule, status }) => [rule, status]));

describe("a listing's readiness", () => {
  it("is complete at the very limits", () => {
    expect(Object.values(status({}))).toEqual(["met", "met", "met", "met"]);
    expect(status({ refundDays: 14 })["refund_window"]).toBe("met");
  });
  it("names a picture that is missing, too small or too heavy", () => {
    expect(status({ picture: undefined })["picture"]).toBe("not_met");
    for (const change of [{ width: 599 }, { height: 399 }, { bytes: 1025 }])
      expect(status({ picture: { ...facts.picture!, ...change } })["picture"]).toBe("not_met");
  });
  it("names a refund window outside the marketplace's", () => {
    expect(status({ refundDays: 31 })["refund_window"]).toBe("not_met");
    expect(status({ refundDays: 13 })["refund_window"]).toBe("not_met");
  });
  it("cannot tell about the test order while no checkout is published", () => {
    expect(status({ testOrderAt: undefined })["test_order"]).toBe("not_met");
    expect(status({ testOrderAt: undefined, checkoutPublished: false })["test_order"]).toBe("cannot_tell");
  });
  it("says for every rule what is asked, what was found, and where to mend it", () => {
    for (const rule of readiness(terms, { refundDays: 60, checkoutPublished: false })) {
      expect(rule.asks.length).toBeGreaterThan(10);
      expect(rule.found.length).toBeGreaterThan(5);
      expect(rule.fix).toBe(rule.rule);
      expect(rule.status).not.toBe("met");
    }
  });
});

describe("a submission", () => {
  it("is refused while a rule is open, naming the rules", () => {
    expect(submitRefusal("draft", readiness(terms, { ...facts, termsAcceptedAt: undefined, refundDays: 60 }))).toEqual({
      code: "gaps_open",
      rules: ["refund_window", "terms"],
    });
  });
  it("is possible from a draft and after a return, and from no other state", () => {
    const possible = listingStates.filter((state) => submitRefusal(state, readiness(terms, facts)) === undefined);
    expect(possible).toEqual(["draft", "returned"]);
  });
});

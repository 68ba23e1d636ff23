import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { commissionOn, commissionRateAt, creditFor, pendingUntil, type Touch } from ".";

const day = 86_400_000;
const ordered = new Date("2026-11-25T12:00:00Z");
const touch = (id: string, partnerId: string, daysBefore: number): Touch => ({
  id,
  partnerId,
  partnerName: partnerId.toUpperCase(),
  at: new Date(ordered.getTime() - daysBefore * day),
});
const anyTouches = fc.array(
  fc
    .record({ partner: fc.constantFrom("a", "b", "c"), days: fc.double({ min: -5, max: 120, noNaN: true }) })
    .map(({ partner, days }) => touch(`${partner}${days}`, partner, days)),
  { maxLength: 12 },
);

describe("last-touch credit", () => {
  it("goes to the last link within the window", () => {
    const credit = creditFor([touch("1", "a", 20), touch("2", "b", 3)], ordered, 60);
    expect(credit.partnerId).toBe("b");
    expect(credit.touches.map(({ rejected }) => rejected)).toEqual(["replaced_by_later", undefined]);
  });
  it("explains each touch that was not credited", () => {
    const credit = creditFor([touch("old", "a", 61), touch("first", "b", 10), touch("self", "me", 2), touch("late", "c", -1)], ordered, 60, {
      buyerPartnerId: "me",
    });
    expect(credit.partnerId).toBe("b");
    expect(Object.fromEntries(credit.touches.map(({ id, rejected }) => [id, rejected]))).toEqual({
      old: "outside_window",
      first: undefined,
      self: "own_purchase",
      late: "after_order",
    });
  });
  it("goes to nobody without a touch, or where all are out of the window", () => {
    expect(creditFor([], ordered, 60).partnerId).toBeUndefined();
    expect(creditFor([touch("1", "a", 61)], ordered, 60).partnerId).toBeUndefined();
  });
  it("counts the window's first instant in", () => {
    expect(creditFor([touch("1", "a", 60)], ordered, 60).partnerId).toBe("a");
  });
  it("does not depend on the order in which touches come, credits one at most, and explains every other", () => {
    fc.assert(
      fc.property(anyTouches, fc.integer({ min: 1, max: 90 }), (touches, window) => {
        const credit = creditFor(touches, ordered, window);
        expect(creditFor([...touches].reverse(), ordered, window)).toEqual(credit);
        expect(credit.touches.filter(({ credited }) => credited).length).toBe(credit.partnerId ? 1 : 0);
        for (const seen of credit.touches) expect(seen.credited).toBe(seen.rejected === undefined);
      }),
    );
  });
  it("goes by a partner's coupon before any link, and says which link it outranked", () => {
    const coupon = { code: "B-10", partnerId: "b", partnerName: "B" };
    const credit = creditFor([touch("1", "a", 20), touch("2", "c", 3), touch("3", "a", -1)], ordered, 60, { coupon });
    expect(credit).toMatchObject({ rule: "coupon", partnerId: "b", partnerName: "B", coupon: { ...coupon, credited: true } });
    expect(credit.touches.map(({ rejected }) => rejected)).toEqual(["replaced_by_later", "outranked_by_coupon", "after_order"]);
    // Without a link it is credited as well; with their own code, a partner earns nothing by it.
    expect(creditFor([], ordered, 60, { coupon }).partnerId).toBe("b");
    const own = creditFor([touch("1", "a", 20)], ordered, 60, { coupon, buyerPartnerId: "b" });
    expect(own).toMatchObject({ rule: "last_touch", partnerId: "a", coupon: { credited: false } });
  });
  it("is not moved by an earlier touch that is added to it", () => {
    fc.assert(
      fc.property(anyTouches, (touches) => {
        const credit = creditFor(touches, ordered, 60);
        fc.pre(credit.partnerId !== undefined);
        expect(creditFor([...touches, touch("earlier", "z", 59.999)], ordered, 60).partnerId === "z").toBe(
          touches.every(({ at }) => at > ordered || at.getTime() < ordered.getTime() - 59.999 * day),
        );
      }),
    );
  });
});

describe("a commission", () => {
  it("is a share of the net line, rounded, never below zero nor above its base", () => {
    expect(commissionOn(12_114, 4_000)).toBe(4_846);
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1e9 }), fc.integer({ min: 0, max: 30_000 }), (net, rate) => {
        const earned = commissionOn(net, rate);
        expect(earned).toBeGreaterThanOrEqual(0);
        expect(earned).toBeLessThanOrEqual(net);
        if (rate <= 10_000) expect(Math.abs(earned - (net * rate) / 10_000)).toBeLessThanOrEqual(0.5);
      }),
    );
  });
  it("is held until the refund window and a margin are over", () => {
    expect(pendingUntil(ordered, 30)).toEqual(new Date("2026-12-30T12:00:00Z"));
    expect(pendingUntil(ordered, 0, 0)).toEqual(ordered);
  });
});

describe("a featured day", () => {
  const from = new Date("2026-11-20T18:00:00Z");
  const to = new Date("2026-11-21T18:00:00Z");
  const day = [{ id: "f", from, to, rateBp: 6_000 }];
  it("pays every partner at least its rate while it lasts, and takes nothing from who earns more", () => {
    const [own, featured] = ["partner_rate", "featured_day"];
    expect(commissionRateAt(4_000, day, from)).toEqual({ rule: featured, rateBp: 6_000 });
    expect(commissionRateAt(7_000, day, from)).toEqual({ rule: own, rateBp: 7_000 });
    expect(commissionRateAt(6_000, day, from)).toEqual({ rule: own, rateBp: 6_000 });
    expect(commissionRateAt(4_000, day, to)).toEqual({ rule: own, rateBp: 4_000 });
    expect(commissionRateAt(4_000, day, new Date(from.getTime() - 1))).toEqual({ rule: own, rateBp: 4_000 });
    expect(commissionRateAt(4_000, [...day, { id: "g", from, to, rateBp: 6_500 }], from)).toEqual({ rule: featured, rateBp: 6_500 });
  });
});

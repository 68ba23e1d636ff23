import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { signInRules, waitSeconds } from ".";

describe("waits between wrong tries", () => {
  it("begin after the free tries, double, and stop growing", () => {
    const rule = { free: 5, mostSeconds: 900 };
    expect([4, 5, 6, 7, 12, 13, 14, 40].map((tries) => waitSeconds(tries, rule))).toEqual([0, 2, 4, 8, 256, 512, 900, 900]);
  });
  it("never shrink with more tries, for any rule", () => {
    fc.assert(
      fc.property(fc.nat(200), fc.nat(50), fc.integer({ min: 1, max: 5000 }), (tries, free, mostSeconds) => {
        const rule = { free, mostSeconds };
        expect(waitSeconds(tries + 1, rule)).toBeGreaterThanOrEqual(waitSeconds(tries, rule));
        expect(waitSeconds(tries, rule)).toBeLessThanOrEqual(mostSeconds);
      }),
    );
  });
  it("keep an owner whom strangers guess at waiting for a minute at most", () => {
    expect(waitSeconds(100_000, signInRules.account)).toBe(60);
  });
});

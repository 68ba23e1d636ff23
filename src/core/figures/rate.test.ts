import { describe, expect, it } from "vitest";
import { rateWords, wilson } from ".";

describe("a rate", () => {
  it.each([
    // Newcombe, Statistics in Medicine 17 (1998) 857–872, table I, method 3; values from memory.
    [81, 263, 0.2553, 0.3662],
    [15, 148, 0.0624, 0.1605],
    [0, 20, 0, 0.1611],
    [1, 29, 0.0061, 0.1718],
  ])("of %d among %d has Wilson's interval", (yes, of, low, high) => {
    const interval = wilson({ yes, of });
    expect(interval.low).toBeCloseTo(low, 4);
    expect(interval.high).toBeCloseTo(high, 4);
  });
  it("of nobody may be anything", () => expect(wilson({ yes: 0, of: 0 })).toEqual({ low: 0, high: 1 }));
  it("is said with its counts, and with its interval where it is one of few", () => {
    expect([rateWords(31, 412), rateWords(0, 0)]).toEqual(["31 of 412, 7.5 %", "0 of 0"]);
    expect([rateWords(1, 29), rateWords(50, 100), rateWords(1, 1)]).toEqual([
      "1 of 29, 3.4 % (1 to 17 %)",
      "50 of 100, 50.0 %",
      "1 of 1, 100.0 % (21 to 100 %)",
    ]);
  });
});

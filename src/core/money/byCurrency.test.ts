import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { addMoney, currencies, formatMoneyByCurrency, type MoneyByCurrency } from ".";

const anySums = fc.dictionary(fc.constantFrom(...currencies), fc.integer({ min: -1e9, max: 1e9 }));

describe("money in several currencies", () => {
  it("is never added across currencies", () => {
    expect(addMoney({ EUR: 100, USD: 5 }, { EUR: 20, JPY: 3 })).toEqual({ EUR: 120, USD: 5, JPY: 3 });
    fc.assert(
      fc.property(fc.array(anySums, { maxLength: 6 }), (all) => {
        const total = addMoney(...all);
        for (const currency of currencies) expect(total[currency] ?? 0).toBe(all.reduce((sum, one) => sum + (one[currency] ?? 0), 0));
      }),
    );
  });
  it("is shown currency by currency, by its own minor units (ISO 4217)", () => {
    expect(formatMoneyByCurrency({ USD: 1_400, EUR: 6_105, JPY: 500 }, "EUR")).toBe("€61.05, JP¥500 and US$14.00");
    expect(formatMoneyByCurrency({ EUR: 0 }, "EUR")).toBe("€0.00");
    expect(formatMoneyByCurrency({}, "JPY")).toBe("JP¥0");
    expect(formatMoneyByCurrency({ USD: 1_400 }, "EUR")).toBe("US$14.00");
    expect(formatMoneyByCurrency({ EUR: 100, USD: 0 }, "EUR")).toBe("€1.00");
  });
  it("does not compile as a number", () => {
    const held: MoneyByCurrency = { EUR: 1 };
    // @ts-expect-error A record is no number: a sum over currencies is refused by the compiler.
    const sum: number = held;
    expect(sum).toBe(held);
    // @ts-expect-error Nor is it an amount of one currency.
    expect(formatMoneyByCurrency({ EUR: held }, "EUR")).toBeDefined();
  });
});

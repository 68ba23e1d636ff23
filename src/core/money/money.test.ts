import { code } from "currency-codes";
import fc from "fast-check";
import { faultSentence } from "../words";
import { describe, expect, it } from "vitest";
import {
  currencies,
  formatAmount,
  formatBasisPoints,
  formatMoney,
  formatRoughly,
  locales,
  minorDigits,
  multiplyRounded,
  readAmount,
  split,
  wholeUnits,
} from ".";

describe("amounts", () => {
  it.each(currencies)("of %s have the minor units of ISO 4217, as an independent package carries them", (currency) => {
    expect(minorDigits(currency)).toBe(code(currency)!.digits);
  });
  it("are shown with their currency", () => {
    expect(formatMoney(14_900, "EUR")).toBe("€149.00");
    expect(formatMoney(1_500, "JPY")).toContain("1,500");
    expect(formatMoney(1_234, "KWD")).toContain("1.234");
  });
  it.each([
    ["149", "EUR", "en-IE", 14_900],
    ["€17.00", "EUR", "en-IE", 1_700],
    ["17.00 EUR", "EUR", "en-IE", 1_700],
    ["1,500.00", "EUR", "en-IE", 150_000],
    ["1,000", "EUR", "en-IE", 100_000],
    ["1 234 567.5", "EUR", "en-IE", 123_456_750],
    [" 0.05 ", "EUR", "en-IE", 5],
    // Another habit is understood where it can mean one thing.
    ["149,5", "EUR", "en-IE", 14_950],
    ["1.500,00", "EUR", "en-IE", 150_000],
    ["1.000.000", "EUR", "en-IE", 100_000_000],
    ["0,500", "KWD", "en-IE", 500],
    ["1.234", "KWD", "en-IE", 1_234],
    ["1,000", "JPY", "en-IE", 1_000],
    ["1.500,00", "EUR", "de-DE", 150_000],
    ["1.000", "EUR", "de-DE", 100_000],
    ["1,234", "KWD", "de-DE", 1_234],
    ["1 500,00", "EUR", "fr-FR", 150_000],
    ["1'500.00", "CHF", "de-CH", 150_000],
  ] as const)("%s in %s, typed in %s, are %d minor units", (typed, currency, locale, minor) => {
    expect(readAmount(typed, currency, locale)).toBe(minor);
  });
  it.each([
    ["1.000", "EUR", "en-IE", [100_000, 100]],
    ["1,000", "KWD", "en-IE", [1_000_000, 1_000]],
    ["1.234", "EUR", "en-IE", [123_400]],
    ["1.000", "JPY", "en-IE", [1_000, 1]],
    ["1,000", "EUR", "de-DE", [100_000, 100]],
    ["1.000", "KWD", "de-DE", [1_000_000, 1_000]],
    ["1,000", "CHF", "de-CH", [100_000, 100]],
  ] as const)("%s in %s, typed in %s, may mean more than one thing and is asked back", (typed, currency, locale, readings) => {
    const read = readAmount(typed, currency, locale);
    expect(read).toEqual({ code: "ambiguous", readings });
    const words = faultSentence({ code: "amount", refusal: read as Exclude<typeof read, number>, currency }, locale);
    // What it proposes is read as it means it.
    for (const reading of readings) expect(words).toContain(formatMoney(reading, currency, locale));
  });
  it("are refused where the currency is not that fine, is another, or where they are none", () => {
    expect(readAmount("1.5", "JPY")).toEqual({ code: "too_fine", digits: 0 });
    expect(readAmount("1.2345", "EUR")).toEqual({ code: "too_fine", digits: 2 });
    expect(readAmount("$17.00", "EUR")).toEqual({ code: "other_currency", currency: "EUR" });
    for (const wrong of ["", "-1", "1e3", "1.2.3", "1,23,456", "12,34.5", "ten", "€", "9999999999"])
      expect(readAmount(wrong, "EUR")).toEqual({ code: "not_an_amount" });
    // Nine digits of whole units are the most, in either habit of writing.
    expect([readAmount("999999999", "EUR"), readAmount("999999999.99", "EUR"), readAmount("999999999,99", "EUR")]).toEqual([
      99_999_999_900, 99_999_999_999, 99_999_999_999,
    ]);
    for (const wrong of ["1000000000.50", "1000000000,50"]) expect(readAmount(wrong, "EUR")).toEqual({ code: "not_an_amount" });
    // Too fine in the other habit of writing.
    expect(readAmount("1,2345", "EUR")).toEqual({ code: "too_fine", digits: 2 });
    expect(readAmount("1,5", "JPY", "de-DE")).toEqual({ code: "too_fine", digits: 0 });
    expect(readAmount("1.2345", "EUR", "de-DE")).toEqual({ code: "too_fine", digits: 2 });
  });
  it("that are refused say what to type instead", () => {
    const words = (typed: string, currency = "EUR") => {
      const read = readAmount(typed, currency);
      return faultSentence({ code: "amount", refusal: read as Exclude<typeof read, number>, currency });
    };
    expect(words("1.5", "JPY")).toBe("JPY has no smaller unit: give a whole amount, such as JP¥1,700.");
    expect(words("1.2345")).toBe("EUR has 2 decimal places: give an amount, such as €17.00.");
    expect(words("$17.00")).toBe("The amount is in EUR: give it as such, such as €17.00.");
    expect(words("ten")).toBe("Give an amount, such as €17.00.");
    expect(words("1.234")).toBe("This may mean €1,234.00. If it does, type it like that.");
    expect(words("1.000")).toBe("This can be read as €1,000.00 or as €1.00. Type it as one of these.");
  });
  it("on an axis lose their decimals where they are whole, and only there", () => {
    expect([formatRoughly(190_000, "EUR"), formatRoughly(190_050, "EUR"), formatRoughly(0, "EUR")]).toEqual(["€1,900", "€1,900.50", "€0"]);
    expect([formatRoughly(1_000, "JPY"), formatRoughly(5_000, "KWD")]).toEqual([
      formatMoney(1_000, "JPY"),
      formatMoney(5_000, "KWD").replace(".000", ""),
    ]);
    expect(formatBasisPoints(1_234)).toBe("12.34 %");
  });
  it("are read back as they were written, in every currency and every way of writing them", () => {
    const some = fc.record({ minor: fc.nat({ max: 99_999_999 }), currency: fc.constantFrom(...currencies), locale: fc.constantFrom(...locales) });
    fc.assert(
      fc.property(some, ({ minor, currency, locale }) => {
        expect(readAmount(formatMoney(minor, currency, locale), currency, locale)).toBe(minor);
        expect(readAmount(formatAmount(minor, currency, locale), currency, locale)).toBe(minor);
        expect(readAmount(formatRoughly(minor, currency, locale), currency, locale)).toEqual(
          // A thousand without its decimals may mean a thousandth of it: nobody is asked to type what an axis says.
          expect.toSatisfy((read) => read === minor || (read as { code?: string }).code === "ambiguous"),
        );
      }),
    );
  });
  it("have one form for other programs, with a point and nothing else", () => {
    expect([formatAmount(123_456, "EUR"), formatAmount(1_500, "JPY"), formatAmount(5, "KWD")]).toEqual(["1234.56", "1500", "0.005"]);
    expect(formatAmount(123_456, "EUR", "de-DE")).toBe("1234,56");
    expect([wholeUnits(2, "EUR"), wholeUnits(2, "JPY"), wholeUnits(2, "KWD")]).toEqual([200, 2, 2_000]);
    expect([formatBasisPoints(2_300), formatBasisPoints(790), formatBasisPoints(790, "de-DE")]).toEqual(["23 %", "7.9 %", "7,9 %"]);
  });
  it("round half away from zero", () => {
    expect(multiplyRounded(5, 1, 2)).toBe(3);
    expect(multiplyRounded(-5, 1, 2)).toBe(-3);
    expect(multiplyRounded(4, 1, 3)).toBe(1);
    expect(multiplyRounded(0, 5, 7)).toBe(0);
  });
  it("round to the nearest at any size, exactly", () => {
    fc.assert(
      fc.property(fc.integer(), fc.integer({ min: 0, max: 20_000 }), fc.integer({ min: 1, max: 20_000 }), (a, n, d) => {
        const twiceError = 2n * (BigInt(multiplyRounded(a, n, d)) * BigInt(d) - BigInt(a) * BigInt(n));
        expect(twiceError <= BigInt(d) && twiceError >= -BigInt(d)).toBe(true);
      }),
    );
  });
  it("split without losing or making a cent", () => {
    expect(split(100, [1, 1, 1])).toEqual([34, 33, 33]);
    expect(split(-100, [1, 1, 1])).toEqual([-34, -33, -33]);
    fc.assert(
      fc.property(
        fc.integer({ min: -1e9, max: 1e9 }),
        fc.array(fc.integer({ min: 0, max: 1000 }), { minLength: 1, maxLength: 12 }),
        (total, weights) => {
          fc.pre(weights.some((weight) => weight > 0));
          const parts = split(total, weights);
          expect(parts.reduce((a, b) => a + b, 0)).toBe(total);
          const sum = weights.reduce((a, b) => a + b, 0);
          parts.forEach((part, i) => expect(Math.abs(part - (total * weights[i]!) / sum)).toBeLessThan(1));
        },
      ),
    );
    for (const weights of [[0], [], [1, -2]]) expect(() => split(1, weights)).toThrow("the weights must add up to more than zero");
    expect(split(0, [1, 2]).map((part) => Object.is(part, 0))).toEqual([true, true]);
    expect(Object.is(split(-1, [1, 0])[1], 0)).toBe(true);
  });
  it("split by the largest remainder, the earlier part first where two are alike", () => {
    // Hamilton's method with the Hare quota: the example that textbooks of apportionment share, values from memory.
    expect(split(10, [47_000, 16_000, 15_900, 12_000, 6_000, 3_100])).toEqual([5, 2, 1, 1, 1, 0]);
    expect(split(1, [3, 3])).toEqual([1, 0]);
    expect(split(2, [1, 3, 3, 3])).toEqual([0, 1, 1, 0]);
    expect(split(5, [1, 1, 2])).toEqual([1, 1, 3]);
  });
});

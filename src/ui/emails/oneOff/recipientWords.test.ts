import { describe, expect, it } from "vitest";
import { filterOptions, toWhom } from "./recipientWords";

const filters = [{ id: "1", name: "Knits daily", who: 'is tagged "daily"' }];

describe("whom a one-off email goes to", () => {
  it("is everybody, a saved filter by its name, or its condition", () => {
    expect(toWhom("", filters)).toBe("everybody who may be written to");
    expect(toWhom('is tagged "daily"', filters)).toBe("“Knits daily”");
    expect(toWhom('is tagged "weekly"', filters)).toBe('whoever is tagged "weekly"');
  });

  it("is chosen from the saved filters; what no filter has stands beside them", () => {
    expect(filterOptions('is tagged "daily"', filters).map(({ label }) => label)).toEqual(["everybody who may be written to", "Knits daily"]);
    expect(filterOptions('is tagged "weekly"', filters).at(-1)).toEqual({ value: 'is tagged "weekly"', label: "a condition of its own" });
  });
});

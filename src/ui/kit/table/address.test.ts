import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { readSort, writeSort } from "./address";

describe("the order of a list in its address", () => {
  const columns = ["number", "paid", "placed"];
  it("is read as it was written", () => {
    fc.assert(
      fc.property(fc.constantFrom(...columns), fc.boolean(), (by, down) => {
        expect(readSort(writeSort({ by, down }), columns)).toEqual({ by, down });
      }),
    );
  });
  it("is none where it names no column of the list", () => {
    for (const text of [null, "", "-", "--paid", "weight", "-weight", "paid desc"]) expect(readSort(text, columns)).toBeUndefined();
  });
});

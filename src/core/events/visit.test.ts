import { describe, expect, it } from "vitest";
import { readEvent, sourceOf, visitSource } from ".";

describe("where a visitor was sent from", () => {
  it("is read from the marks of the open utm convention and the id of a click, cut where it is too long", () => {
    const query = new URLSearchParams("utm_source= guild &utm_medium=&utm_campaign=spring&click_id=abc&utm_other=x&p=code");
    expect(sourceOf(query)).toEqual({ source: "guild", campaign: "spring", click: "abc" });
    const long = sourceOf(new URLSearchParams({ utm_term: "t".repeat(300), click_id: "c".repeat(300) }));
    expect([long.term?.length, long.click?.length]).toEqual([80, 120]);
    expect(sourceOf(new URLSearchParams())).toEqual({});
  });
  it("fits what a view of a page keeps, whatever an address says", () => {
    for (const text of ["", " ", "a".repeat(500), "\u0000", "ß", `${"a".repeat(79)}😀`]) {
      const marks = sourceOf(new URLSearchParams({ utm_source: text, utm_content: text, click_id: text }));
      // What PostgreSQL keeps as JSON: no zero byte, no half of a character.
      expect(JSON.stringify(marks)).not.toMatch(/\\u(0000|d83d)/);
      expect(visitSource.safeParse(marks).success).toBe(true);
      expect(readEvent("visited", { variant: "A", device: "phone", ...marks })).toBeDefined();
    }
    expect(readEvent("visited", { variant: "A", device: "fridge" })).toBeUndefined();
  });
});

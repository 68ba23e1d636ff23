import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { planFor } from "../../../tests/support/plans";
import { pageKinds } from "../launch";
import { fill, missingToCharge, pageContent, templates } from ".";

describe("a page's words", () => {
  it("of every template are complete", () => {
    const all = templates("A course");
    for (const kind of pageKinds) expect(pageContent.safeParse(all[kind]).success).toBe(true);
  });
  it("need a headline, a text and a button", () => {
    const read = pageContent.safeParse({ headline: " ", text: "", button: "x".repeat(61) });
    expect(read.error?.issues.map(({ path }) => path[0])).toEqual(["headline", "text", "button"]);
  });
});

describe("charging", () => {
  const launch = (unpublished: string[], shape: "full" | "list" = "full") => planFor({ unpublished, shape });
  it("needs the sales page, the checkout and the thank-you page published", () => {
    expect(missingToCharge(launch([]))).toEqual([]);
    expect(missingToCharge(launch(["sales", "optin"]))).toEqual(["sales"]);
    expect(missingToCharge({ shape: "full", pages: [] })).toEqual(["sales", "checkout", "thanks"]);
    expect(missingToCharge(launch(["optin"], "list"))).toEqual([]);
  });
});

describe("a compiled page", () => {
  it("is its parts with the holes filled in order, and an unfilled hole is empty", () => {
    expect(fill({ parts: ["a", "b", "c"], holes: ["price", "form"] }, { price: "1", form: "2" })).toBe("a1b2c");
    expect(fill({ parts: ["a", "b"], holes: ["price"] }, {})).toBe("ab");
    fc.assert(
      fc.property(
        fc.string(),
        fc.string(),
        (before, price) => void expect(fill({ parts: [before, ""], holes: ["price"] }, { price })).toBe(before + price),
      ),
    );
  });
});

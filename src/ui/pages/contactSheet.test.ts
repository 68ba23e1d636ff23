import { describe, expect, it } from "vitest";
import { planFor, sourceFor } from "../../../tests/support/plans";
import { pageOf } from "../../core/launch";
import { firstPage, withHeadline } from "../../core/pages";
import { contactSheet, gateWords, pageName } from "./contactSheet";

const now = new Date("2026-11-23T12:00:00Z");
const plan = planFor({ unpublished: ["thanks"] });
const pages = sourceFor({ unpublished: ["thanks"] }).pages.map(({ key, kind, slug, published }) => {
  const draft = firstPage(kind, plan.name);
  return { id: `id-${key}`, key, kind, slug, version: 1, draft, published: published ? draft : null, publishedAt: published ? now : null };
});
type Facts = Parameters<typeof contactSheet>[0];
const sheetOf = (change: Partial<Facts> = {}) =>
  contactSheet({ plan, pages, tested: new Set(), figures: [], films: [], gaps: () => [], ...change }, now);
const of = (kind: string, sheet = sheetOf()) => sheet.find(({ key }) => key === pages.find((page) => page.kind === kind)!.key)!;
const figure = { variant: "A", people: 400, optedIn: 100, began: 40, paid: 31 };

describe("the pages of a launch side by side", () => {
  it("stand in the order given, each with its address and its editor", () => {
    expect(sheetOf().map(({ key }) => key)).toEqual(pages.map(({ key }) => key));
    const { slug, key } = pages.find(({ kind }) => kind === "sales")!;
    expect(of("sales")).toMatchObject({ address: `/gansey/${slug}`, editor: `/desk/gansey/pages/${key}` });
  });
  it("say whether what is public is what was written", () => {
    expect(of("sales")).toMatchObject({ state: "published", live: true, publishedAt: "Mon 23 Nov, 12:00" });
    expect(of("thanks")).toMatchObject({ state: "not published", live: false, publishedAt: "" });
    const changed = pages.map((page) => (page.kind === "sales" ? { ...page, draft: withHeadline(firstPage("sales", plan.name), "Another") } : page));
    expect(of("sales", sheetOf({ pages: changed }))).toMatchObject({ state: "changed since it was published", live: false });
  });
  it("say which page answers before, while and after the doors are open", () => {
    expect(gateWords(plan, pageOf(plan, of("sales").key)!)).toMatch(/^before: .+ · while open: this page · after: .+$/);
    expect(gateWords(plan, pageOf(plan, of("thanks").key)!)).toBe("with an order, at any time");
    expect(pageName({ kind: "content", slug: "episode-1" })).toBe("/episode-1");
  });
  it("count what came of each page, and of each version where several are tested", () => {
    const key = of("sales").key;
    const figures = [
      { page: key, ...figure },
      { page: key, ...figure, variant: "B", people: 200 },
    ];
    const films = [{ page: key, reached: [300, 150, 90, 60] as [number, number, number, number] }];
    const alone = of("sales", sheetOf({ figures, films }));
    expect(alone.came).toHaveLength(1);
    expect(alone.came[0]!.words).toMatch(/of 400, /);
    expect(alone.watched).toEqual(["watched half: 150 of 600, 25.0 %; to the end: 60"]);
    const tested = of("sales", sheetOf({ figures, tested: new Set([key]) }));
    expect(tested.came.map(({ variant }) => variant)).toEqual(["A: ", "B: "]);
  });
  it("name three gaps at most, each leading to its very field", () => {
    const gaps = ["a", "b", "c", "d"].map((says) => ({ says, blocking: true, block: "b1", field: "text" }));
    expect(of("sales", sheetOf({ gaps: () => gaps })).gaps.map(({ href }) => href)).toEqual(
      Array.from({ length: 3 }, () => `${of("sales").editor}?block=b1&field=text`),
    );
  });
});

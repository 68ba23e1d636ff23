import { describe, expect, it } from "vitest";
import { sourceFor } from "../../../../tests/support/plans";
import type { LaunchSource } from "../../launch";
import { builder, idsFrom, pageOf, pageUses, type PageContent, type UsedPage } from "..";

const empty = (): PageContent => {
  const b = builder(idsFrom("e"));
  return pageOf([b.section([b.title("Ours.")])]);
};
const button = (to: string): PageContent => {
  const b = builder(idsFrom("x"));
  return pageOf([b.section([b.button("Go there", { to: "page", page: to })])]);
};
const extra = { key: "bonus", kind: "content", slug: "bonus", title: "bonus", published: true } as const;
const uses = (
  change: Partial<LaunchSource["settings"]> = {},
  {
    key = "bonus",
    content = {},
    steps = [],
    tested = false,
  }: { key?: string; content?: Record<string, Partial<UsedPage>>; steps?: string[]; tested?: boolean } = {},
) => {
  const source = sourceFor({ settings: change });
  source.pages = [...source.pages, extra];
  const pages = source.pages.map((page) => ({ id: `id-${page.key}`, key: page.key, draft: empty(), published: empty(), ...content[page.key] }));
  return pageUses(
    source,
    pages,
    steps.map((page, index) => ({ id: `step ${index}`, pageId: `id-${page}` })),
    key,
    tested,
  );
};

describe("what hangs on a page", () => {
  it("is nothing where it stands for itself, and nothing of a page that is not there", () => {
    expect(uses()).toEqual([]);
    expect(uses({}, { key: "no such" })).toEqual([]);
  });
  it("are settings that name it, each once", () => {
    const covers = { mode: "only", pages: ["bonus"], folders: [] } as never;
    const self = { to: "self" } as never;
    expect(uses({ episodes: [{ page: "bonus", unlock: { on: "start" } }] as never })).toEqual([{ by: "setting", part: "episodes" }]);
    expect(uses({ gates: [{ id: "g", name: "", covers, before: self, during: self, after: self }] as never })).toEqual([
      { by: "setting", part: "gates" },
    ]);
  });
  it("are public addresses that answer with it", () => {
    const found = uses({}, { key: "closed" }).filter(({ by }) => by === "answer");
    expect(found.map((use) => "page" in use && use.page)).toContain("sales");
    expect(found.every((use) => "phase" in use && use.phase === "after")).toBe(true);
  });
  it("are orders, while no other page of its kind is there, and the launch's own address", () => {
    for (const key of ["checkout", "thanks", "sales"]) expect(uses({}, { key }), key).toContainEqual({ by: "orders" });
    const own = sourceFor().pages.find(({ slug }) => slug === "")!.key;
    expect(uses({}, { key: own })).toContainEqual({ by: "own_address" });
  });
  it("are steps of the path, and versions under test", () => {
    expect(uses({}, { steps: ["offer", "bonus"], tested: true })).toEqual([{ by: "test" }, { by: "step", step: "step 1" }]);
  });
  it("are buttons of other pages, drafts among them, but not its own", () => {
    const b = builder(idsFrom("f"));
    const form = { ...b.made("form", {}), checkPage: "bonus" };
    const content = {
      optin: { draft: button("bonus") },
      closed: { published: button("bonus"), draft: button("bonus") },
      thanks: { draft: pageOf([b.section([form])]) },
      bonus: { draft: button("bonus") },
    };
    const found = uses({}, { content });
    expect(found.map((use) => use.by === "link" && use.page).sort()).toEqual(["closed", "optin", "thanks"]);
  });
});

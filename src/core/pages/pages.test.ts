import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { anyContent } from "../../../tests/support/contents";
import { planFor } from "../../../tests/support/plans";
import {
  assignArm,
  blockKinds,
  blocksFor,
  builder,
  changesBetween,
  contrast,
  copyBlock,
  duplicateBlock,
  fill,
  fillSome,
  findBlock,
  firstPage,
  goalOf,
  headlineOf,
  hrefOf,
  idsFrom,
  inkOn,
  insertBlock,
  insertSection,
  leavesOf,
  listAt,
  luminance,
  missingToCharge,
  moveBlock,
  newBlock,
  nextStep,
  pageContent,
  pageGaps,
  pageLeaves,
  pageOf,
  paletteOf,
  plainOf,
  purposes,
  readableOn,
  removeBlock,
  removeSection,
  richFromEditor,
  richOf,
  richText,
  stepBlock,
  stepSection,
  targetsOf,
  templates,
  themes,
  unitHash,
  updateBlock,
  widthsFor,
  withHeadline,
  withNewIds,
  type BlockType,
  type Hex,
  type Hole,
  type PageContent,
} from ".";
import { begin, record, redo, settle, undo } from "./publish/history";
import { pageKinds, plannedPages } from "../launch";

const ids = (content: PageContent): string[] =>
  content.sections.flatMap(({ id, blocks }) => [
    id,
    ...blocks.flatMap((block) => [block.id, ...(block.type === "columns" ? leavesOf([block]).map((leaf) => leaf.id) : [])]),
  ]);
const order = (content: PageContent) => content.sections.flatMap(({ blocks }) => blocks.map(({ id }) => id));
const source = (shape: "full" | "short" = "full") => ({
  slug: "gansey",
  shape,
  pages: plannedPages(shape).map((page) => ({ ...page, title: page.key, published: true })),
});
const gapsIn = (content: PageContent, kind: (typeof pageKinds)[number] = "content", key: string = kind) =>
  pageGaps(content, { key, kind, source: source(), launches: ["gansey"] });
const anyHex = fc.integer({ min: 0, max: 0xffffff }).map((n): Hex => `#${n.toString(16).padStart(6, "0").toUpperCase()}`);

describe("any page", () => {
  it("is valid, and reads back as it was written", () => {
    fc.assert(
      fc.property(anyContent, (content) => {
        const read = pageContent.parse(JSON.parse(JSON.stringify(content)));
        expect(read).toEqual(pageContent.parse(content));
        expect(JSON.stringify(read)).not.toContain("\\u0000");
      }),
    );
  });
  it("keeps every block exactly once under any row of moves, and no column in a column", () => {
    const moves = fc.array(fc.record({ what: fc.nat(), to: fc.nat(), by: fc.constantFrom(-1 as const, 1 as const), step: fc.boolean() }), {
      maxLength: 8,
    });
    fc.assert(
      fc.property(anyContent, moves, (content, row) => {
        const blocks = ids(content).filter((id) => findBlock(content, id));
        const before = ids(content).sort();
        let now = content;
        for (const { what, to, by, step } of row) {
          const id = blocks[what % Math.max(1, blocks.length)];
          const target = blocks[to % Math.max(1, blocks.length)];
          if (!id || !target) break;
          if (step) now = stepBlock(now, id, by);
          else if (findBlock(now, target)?.place.column?.block !== id) now = moveBlock(now, id, findBlock(now, target)!.place);
        }
        expect(ids(now).sort()).toEqual(before);
        expect(pageContent.safeParse(now).success).toBe(true);
      }),
    );
  });
  it("says of itself that nothing changed, and of another by which blocks they differ", () => {
    fc.assert(fc.property(anyContent, (content) => void expect(changesBetween(content, content)).toEqual([])));
    fc.assert(
      fc.property(anyContent, fc.nat(), (content, n) => {
        const all = pageLeaves(content);
        const one = all[n % Math.max(1, all.length)];
        if (!one) return;
        const without = changesBetween(content, removeBlock(content, one.id));
        expect(without).toEqual([{ what: "removed", name: blockKinds[one.type].name, id: one.id }]);
        const more = changesBetween(
          content,
          duplicateBlock(content, one.id, () => "fresh"),
        );
        expect(more).toEqual([{ what: "added", name: blockKinds[one.type].name, id: "fresh" }]);
        const hidden = updateBlock(content, one.id, (block) => ({ ...block, hide: one.hide.length > 0 ? [] : ["phone"] }));
        expect(changesBetween(content, hidden)).toEqual([{ what: "changed", name: blockKinds[one.type].name, id: one.id }]);
      }),
    );
  });
  it("gets ids of its own in a copy, and its buttons go on opening its own forms", () => {
    const [form, press] = [{ id: "ask", over: true }, { to: "form", block: "ask" } as const];
    const b = builder(idsFrom("b"));
    const content = pageOf([b.section([b.title("T"), b.button("Go", press), b.made("form", form), b.columns([b.made("video", { press })], [])])]);
    const copy = withNewIds(content, idsFrom("n"));
    expect(ids(copy).some((id) => ids(content).includes(id))).toBe(false);
    const renewed = pageLeaves(copy).find(({ type }) => type === "form")!.id;
    expect(targetsOf(copy).map(({ target }) => target)).toEqual([
      { to: "form", block: renewed },
      { to: "form", block: renewed },
    ]);
    expect(gapsIn(copy)).toEqual(gapsIn(content).map((gap) => ({ ...gap, ...(gap.block ? { block: expect.any(String) as string } : {}) })));
  });
});

describe("blocks", () => {
  const b = builder(idsFrom("b"));
  const [one, two, three] = [b.title("One"), b.text("Two"), b.rule()];
  const columns = b.columns([b.text("left")], [b.text("right")]);
  const content = pageOf([b.section([one, two, columns]), b.section([three])]);
  const [first, second] = content.sections as [(typeof content.sections)[0], (typeof content.sections)[0]];

  it("move within a list, into a column, and out of it at its edge", () => {
    expect(order(moveBlock(content, one.id, { section: first.id, index: 2 }))).toEqual([two.id, one.id, columns.id, three.id]);
    const place = { section: first.id, column: { block: columns.id, index: 1 }, index: 0 };
    const inside = moveBlock(content, two.id, place);
    expect(listAt(inside, place).map(({ id }) => id)).toEqual([two.id, columns.columns[1]![0]!.id]);
    expect(order(stepBlock(inside, two.id, -1))).toEqual([one.id, two.id, columns.id, three.id]);
    expect(moveBlock(content, columns.id, place)).toBe(content);
    expect(insertBlock(content, place, newBlock("columns", idsFrom("q")))).toBe(content);
  });
  it("step over the edge of a section into the next, and stay at the end of the page", () => {
    expect(stepBlock(content, columns.id, 1).sections[1]!.blocks.map(({ id }) => id)).toEqual([columns.id, three.id]);
    expect(stepBlock(content, one.id, -1)).toBe(content);
    expect(stepBlock(content, three.id, 1)).toBe(content);
    expect(stepBlock(content, "none", 1)).toBe(content);
  });
  it("of every type are valid when fresh, and a copy differs in its ids alone", () => {
    for (const type of Object.keys(blockKinds) as BlockType[]) {
      const fresh = newBlock(type, idsFrom("f"));
      expect(pageContent.safeParse(pageOf([b.section([fresh])])).success, type).toBe(true);
      const copy = copyBlock(fresh, idsFrom("g"));
      expect(
        changesBetween(pageOf([b.section([copy])]), pageOf([b.section([copyBlock(copy, idsFrom("h"))])])).every(({ what }) => what !== "changed"),
      ).toBe(true);
      expect(copy.id).not.toBe(fresh.id);
    }
  });
  it("in sections that can be added, moved past one another and taken away", () => {
    const fresh = b.section([]);
    expect(insertSection(content, first.id, fresh).sections.map(({ id }) => id)).toEqual([first.id, fresh.id, second.id]);
    expect(insertSection(content, undefined, fresh).sections[0]!.id).toBe(fresh.id);
    const swapped = stepSection(content, first.id, 1);
    expect(swapped.sections.map(({ id }) => id)).toEqual([second.id, first.id]);
    expect(changesBetween(content, swapped).length).toBeGreaterThan(0);
    expect(stepSection(content, first.id, -1)).toBe(content);
    expect(changesBetween(content, removeSection(content, second.id)).map(({ what, name }) => `${name} ${what}`)).toEqual([
      "Rule removed",
      "Section removed",
    ]);
  });
  it("with an id twice are refused", () => {
    expect(pageContent.safeParse(pageOf([b.section([one, one])])).error?.issues[0]?.message).toContain("Two parts");
  });
});

describe("a block typed by name", () => {
  it("is found by its name first, then by what it is called elsewhere", () => {
    expect(blocksFor("vid")).toEqual(["video"]);
    expect(blocksFor("faq")).toEqual(["questions"]);
    expect(blocksFor(" Refund ")).toEqual(["guarantee"]);
    expect(blocksFor("list")[0]).not.toBe("countdown");
    expect(blocksFor("").length).toBe(Object.keys(blockKinds).length);
    expect(blocksFor("col", ["text", "rule"])).toEqual([]);
    for (const [type, { name }] of Object.entries(blockKinds)) expect(blocksFor(name)[0], name).toBe(type);
  });
});

describe("undo", () => {
  it("brings back every state, and redo every one after it", () => {
    fc.assert(
      fc.property(fc.array(fc.nat(), { minLength: 1, maxLength: 12 }), (states) => {
        const distinct = states.filter((state, index) => state !== (states[index - 1] ?? -1));
        let history = begin(-1);
        for (const state of distinct) history = record(history, state);
        for (const state of [...distinct.slice(0, -1).reverse(), -1]) expect((history = undo(history)).present).toBe(state);
        expect(undo(history)).toEqual(history);
        for (const state of distinct) expect((history = redo(history)).present).toBe(state);
      }),
    );
  });
  it("takes the letters of a word together, until the field is left", () => {
    let history = record(record(begin(""), "a", "t"), "ab", "t");
    expect(undo(history).present).toBe("");
    history = record(settle(history), "abc", "t");
    expect(undo(history).present).toBe("ab");
    expect(record(undo(history), "x").future).toEqual([]);
  });
});

describe("rich text", () => {
  it("has no place for anything but its own marks, and no link but to a site", () => {
    expect(richText.safeParse({ type: "doc", content: [{ type: "script", content: [] }] }).success).toBe(false);
    for (const href of ["javascript:alert(1)", "data:text/html,x", "//evil.example", "vbscript:x", " javascript:x"]) {
      const doc = {
        type: "doc",
        content: [{ type: "paragraph", content: [{ type: "text", text: "x", marks: [{ type: "link", attrs: { href } }] }] }],
      };
      expect(richText.safeParse(doc).success, href).toBe(false);
    }
  });
  it("of plain words says the same words", () => {
    expect(plainOf(richOf("One\ntwo\n\n\n three "))).toBe("One\ntwo\nthree");
    expect(
      plainOf({
        type: "doc",
        content: [{ type: "bulletList", content: [{ type: "listItem", content: [{ type: "paragraph", content: [{ type: "text", text: "x" }] }] }] }],
      }),
    ).toBe("x");
  });
});

describe("rich text from an editor", () => {
  const text = (words: string, marks?: { type: string; attrs?: Record<string, unknown> }[]) => ({
    type: "text",
    text: words,
    ...(marks ? { marks } : {}),
  });
  it("keeps paragraphs, headings, quotes, breaks and marks, without what the editor adds of its own", () => {
    const doc = {
      type: "doc",
      content: [
        { type: "heading", attrs: { level: 3 }, content: [text("Head")] },
        {
          type: "paragraph",
          content: [
            text("bold", [{ type: "bold" }]),
            { type: "hardBreak" },
            text("site", [{ type: "link", attrs: { href: "https://a.example/", target: "_blank", class: null } }]),
          ],
        },
        { type: "blockquote", content: [{ type: "paragraph", content: [text("said")] }] },
        { type: "paragraph" },
      ],
    };
    expect(richFromEditor(doc)).toEqual({
      type: "doc",
      content: [
        { type: "heading", content: [{ type: "text", text: "Head" }] },
        {
          type: "paragraph",
          content: [
            { type: "text", text: "bold", marks: [{ type: "bold" }] },
            { type: "hardBreak" },
            { type: "text", text: "site", marks: [{ type: "link", attrs: { href: "https://a.example/" } }] },
          ],
        },
        { type: "blockquote", content: [{ type: "paragraph", content: [{ type: "text", text: "said" }] }] },
        { type: "paragraph", content: [] },
      ],
    });
  });
  it("makes a list in a list part of it, and loses no word", () => {
    const item = (...content: object[]) => ({ type: "listItem", content });
    const line = (words: string) => ({ type: "paragraph", content: [text(words)] });
    const doc = {
      type: "doc",
      content: [{ type: "bulletList", content: [item(line("one"), { type: "orderedList", content: [item(line("inside"))] }), item(line("two"))] }],
    };
    expect(plainOf(richFromEditor(doc)!)).toBe("one\ninside\ntwo");
  });
  it("is not kept with a link to no site, or a mark that is none", () => {
    for (const marks of [[{ type: "link", attrs: { href: "javascript:alert(1)" } }], [{ type: "code" }]])
      expect(richFromEditor({ type: "doc", content: [{ type: "paragraph", content: [text("x", marks)] }] })).toBeUndefined();
  });
  it("reads back every rich text as it is", () => {
    fc.assert(
      fc.property(anyContent, (content) => {
        for (const leaf of pageLeaves(content)) if (leaf.type === "text") expect(richFromEditor(leaf.rich)).toEqual(richText.parse(leaf.rich));
      }),
    );
  });
});

describe("the next step", () => {
  it("leads from the opt-in along the run-up to the launch's own address, and from the sales page to the checkout", () => {
    const { pages, slug } = source();
    const from = (key: string) => nextStep({ slug, pages }, key);
    expect(["optin", "episodes/1", "episodes/2", "episodes/3", "sales", "thanks", "none"].map(from)).toEqual([
      "/l/gansey/episodes/1",
      "/l/gansey/episodes/2",
      "/l/gansey/episodes/3",
      "/l/gansey",
      "/l/gansey/checkout",
      "/l/gansey",
      "/l/gansey",
    ]);
    expect(hrefOf({ slug, pages }, "sales", { to: "page", page: "gone" })).toBeUndefined();
    expect(hrefOf({ slug, pages }, "sales", { to: "outside", url: "https://a.example/" })).toBe("https://a.example/");
  });
});

describe("what a page lacks", () => {
  const b = builder(idsFrom("b"));
  it("is found at its block and field, and only dead ends and needs of the kind stop it", () => {
    const page = pageOf([
      b.section([
        b.title(""),
        b.button("", { to: "page", page: "gone" }),
        b.button("Go", { to: "form", block: "none" }),
        b.button("Elsewhere", { to: "launch", launch: "none" }),
        b.made("video", {}),
      ]),
    ]);
    const found = gapsIn(page, "checkout");
    expect(found.filter(({ blocking }) => blocking).map(({ code, field }) => `${code} ${field ?? ""}`.trim())).toEqual([
      "missing_block",
      "empty text",
      "empty label",
      "dead_end target",
      "dead_end target",
      "dead_end target",
    ]);
    expect(found.filter(({ blocking }) => !blocking).map(({ field }) => field)).toEqual(["media", "label"]);
  });
  it("has one title; an order form stands on the checkout alone; a button back to its own page is told", () => {
    expect(gapsIn(pageOf([]))[0]).toMatchObject({ code: "titles", blocking: true });
    expect(gapsIn(pageOf([b.section([b.title("A"), b.title("B")])]))[0]).toMatchObject({ says: "The page has 2 titles.", blocking: false });
    expect(gapsIn(pageOf([b.section([b.title("A"), b.made("checkout", {})])]), "sales").map(({ code }) => code)).toEqual(["wrong_page"]);
    expect(gapsIn(pageOf([b.section([b.title("A"), b.button("Go", { to: "page", page: "closed" })])]), "closed")[0]).toMatchObject({
      code: "dead_end",
      blocking: false,
    });
  });
  it("counts a form that nothing opens", () => {
    expect(gapsIn(pageOf([b.section([b.title("A"), b.made("form", { over: true })])])).map(({ code }) => code)).toEqual(["never_opened"]);
  });
});

describe("templates", () => {
  it("are two at least for every purpose, valid, and without a blocking gap on their own kind of page", () => {
    for (const purpose of purposes) expect(templates.filter((one) => one.purpose === purpose).length, purpose).toBeGreaterThanOrEqual(2);
    expect(new Set(templates.map(({ id }) => id)).size).toBe(templates.length);
    for (const { id, kind, make } of templates) {
      const page = make("A course");
      expect(pageContent.safeParse(page).error, id).toBeUndefined();
      expect(
        gapsIn(page, kind).filter(({ blocking }) => blocking),
        id,
      ).toEqual([]);
    }
  });
  it("begin every kind of page, with the headline that is asked for", () => {
    for (const kind of pageKinds) expect(headlineOf(withHeadline(firstPage(kind, "A course"), "Mine"))).toBe("Mine");
    const b = builder(idsFrom("b"));
    expect(headlineOf(withHeadline(pageOf([b.section([b.columns([b.title("inside")], [])])]), "Mine"))).toBe("Mine");
  });
});

describe("a look", () => {
  it("computes contrast as WCAG 2.2 does: black on white is 21:1, #767676 on white just reaches 4.5:1", () => {
    // W3C, WCAG 2.2 §1.4.3, definitions of "relative luminance" and "contrast ratio". #767676 as the limit: value from memory.
    expect(contrast("#000000", "#FFFFFF")).toBe(21);
    expect(luminance("#FFFFFF")).toBe(1);
    expect(contrast("#767676", "#FFFFFF")).toBeGreaterThanOrEqual(4.5);
    expect(contrast("#777777", "#FFFFFF")).toBeLessThan(4.5);
    fc.assert(fc.property(anyHex, anyHex, (a, c) => void expect(contrast(a, c)).toBe(contrast(c, a))));
  });
  it("is readable with any two colours: words at 4.5:1, buttons at 3:1, on every ground of every theme", () => {
    fc.assert(
      fc.property(fc.constantFrom(...themes), anyHex, anyHex, (theme, accent, second) => {
        const p = paletteOf({ theme, accent, second });
        for (const ink of [p.ink, p.ink2, p.ink3, p.accentText, p.lossText])
          for (const ground of [p.paper, p.sunk]) expect(contrast(ink, ground)).toBeGreaterThanOrEqual(4.5);
        expect(contrast(p.onAccent, p.accent)).toBeGreaterThanOrEqual(4.5);
        expect(contrast(p.onSecond, p.second)).toBeGreaterThanOrEqual(4.5);
        expect(contrast(p.accentOnSecond, p.second)).toBeGreaterThanOrEqual(4.5);
        expect(contrast(p.accent, p.paper)).toBeGreaterThanOrEqual(3);
      }),
    );
  });
  it("keeps a colour that serves, and takes black or white where neither ink does", () => {
    expect(readableOn("#17695B", "#FFFFFF")).toBe("#17695B");
    expect(inkOn("#808080", "#333333", "#CCCCCC")).toBe("#000000");
  });
});

describe("a picture's widths", () => {
  it("are never wider than the picture", () => {
    expect([100, 480, 500, 4000].map(widthsFor)).toEqual([[100], [480], [480, 500], [480, 960, 1600, 1920]]);
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
  const bars: Hole = { kind: "bars" };
  const card: Hole = { kind: "card" };
  it("is its parts with the holes filled in order, and an unfilled hole is empty", () => {
    expect(fill({ parts: ["a", "b", "c"], holes: [bars, card] }, ({ kind }) => (kind === "bars" ? "1" : "2"))).toBe("a1b2c");
    expect(fill({ parts: ["a", "b"], holes: [bars] }, () => undefined)).toBe("ab");
  });
  it("filled in two steps is the same as in one", () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.constantFrom(bars, card), fc.string())), fc.string(), (rest, begins) => {
        const page = { parts: [begins, ...rest.map(([, part]) => part)], holes: rest.map(([hole]) => hole) };
        const both = ({ kind }: Hole) => (kind === "bars" ? "<1>" : "<2>");
        const first = fillSome(page, (hole) => (hole.kind === "bars" ? "<1>" : undefined));
        expect(first.holes.every(({ kind }) => kind === "card")).toBe(true);
        expect(fill(first, both)).toBe(fill(page, both));
      }),
    );
  });
});

describe("versions of a page", () => {
  const arms = [
    { variant: "A", weight: 3 },
    { variant: "B", weight: 1 },
  ];
  it("are given to people by their shares, the same to each every time", () => {
    const n = 20_000;
    const counts = { A: 0, B: 0 };
    for (let person = 0; person < n; person += 1) counts[assignArm("launch/sales", `person-${person}`, arms) as "A" | "B"] += 1;
    // Chi-square with one degree of freedom: 10.83 is passed once in a thousand (NIST/SEMATECH e-Handbook, table of critical values; value from memory).
    const [a, c] = [n * 0.75, n * 0.25];
    expect((counts.A - a) ** 2 / a + (counts.B - c) ** 2 / c).toBeLessThan(10.83);
    fc.assert(
      fc.property(fc.string(), fc.string(), (page, person) => void expect(assignArm(page, person, arms)).toBe(assignArm(page, person, arms))),
    );
  });
  it("are independent from page to page", () => {
    let both = 0;
    const n = 8_000;
    const even = [
      { variant: "A", weight: 1 },
      { variant: "B", weight: 1 },
    ];
    for (let person = 0; person < n; person += 1) if (assignArm("one", `p${person}`, even) === assignArm("two", `p${person}`, even)) both += 1;
    expect(Math.abs(both - n / 2)).toBeLessThan(3.3 * Math.sqrt(n / 4));
  });
  it("with no weight are given to nobody, and a number from a text lies in [0, 1)", () => {
    expect(assignArm("p", "x", [{ variant: "A", weight: 0 }])).toBeUndefined();
    fc.assert(
      fc.property(fc.string(), (text) => {
        expect(unitHash(text)).toBeGreaterThanOrEqual(0);
        expect(unitHash(text)).toBeLessThan(1);
      }),
    );
  });
  it("are measured by what their page is there for, with the counts", () => {
    const figure = { optedIn: 31, began: 4, paid: 2 };
    expect(["optin", "sales", "checkout", "offer"].map((kind) => goalOf(kind as "sales", figure)?.people)).toEqual([31, 4, 2, undefined]);
  });
});

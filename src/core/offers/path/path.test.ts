import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  blockOf,
  cyclesOf,
  emptyPath,
  inOrder,
  insertBefore,
  insertOn,
  isEnd,
  layoutOf,
  meetingOf,
  moveEarlier,
  moveLater,
  pathEnd,
  pathFindings,
  removeStep,
  renamePath,
  rewire,
  routesOf,
  stepAfter,
  without,
  type Decision,
  type Edge,
  type OfferPath,
  type PathFacts,
  type PathStep,
} from "..";

const made = (id: string, kind: PathStep["kind"] = "offer") => ({ id, kind, productId: `p-${id}`, pageId: `g-${id}`, sure: false });
const step = (id: string, yesTo: string, noTo: string): PathStep => ({ ...made(id), yesTo, noTo });

type Act = { insert: number; rail: Decision | "before" } | { remove: number } | { later: number } | { earlier: number };
const acts: fc.Arbitrary<Act[]> = fc.array(
  fc.oneof(
    { weight: 5, arbitrary: fc.record({ insert: fc.nat(20), rail: fc.constantFrom<Decision | "before">("yes", "no", "before") }) },
    fc.record({ remove: fc.nat(20) }),
    fc.record({ later: fc.nat(20) }),
    fc.record({ earlier: fc.nat(20) }),
  ),
  { maxLength: 14 },
);
/** A path as the desk makes it, act by act, beginning with nothing. */
const built = (list: Act[]): OfferPath =>
  list.reduce<OfferPath>((path, act, n) => {
    const at = (index: number) => path.steps[index % Math.max(path.steps.length, 1)]?.id;
    if ("insert" in act) {
      const id = at(act.insert);
      if (act.rail === "before") return insertBefore(path, act.insert % 2 === 0 ? pathEnd : (id ?? pathEnd), made(`s${n}`));
      return insertOn(path, id === undefined ? { from: "checkout" } : { from: id, rail: act.rail }, made(`s${n}`));
    }
    const id = at("remove" in act ? act.remove : "later" in act ? act.later : act.earlier);
    if (id === undefined) return path;
    return "remove" in act ? removeStep(path, id) : "later" in act ? moveLater(path, id) : moveEarlier(path, id);
  }, emptyPath);
const anyPath = acts.map(built);

const names: Record<string, string> = {};
const factsFor = (path: OfferPath, change: Partial<PathFacts> = {}): PathFacts => ({
  main: { id: "main", name: "The Workshop", minor: 14_900, currency: "EUR", onSale: true, alone: false },
  bumps: [],
  products: Object.fromEntries(
    path.steps.map(({ productId }, index) => [
      productId,
      { id: productId, name: names[productId] ?? productId, minor: 6_700 - index * 10, currency: "EUR", onSale: true, alone: false },
    ]),
  ),
  pages: Object.fromEntries(path.steps.map(({ pageId }) => [pageId, { published: true, name: pageId }])),
  thanks: true,
  pay: "Pay and keep my seat",
  ...change,
});
const codes = (path: OfferPath, change?: Partial<PathFacts>) => pathFindings(path, factsFor(path, change)).map(({ code, at }) => `${code} ${at}`);

describe("an offer path, whatever is done to it", () => {
  it("has no circle and no step that nothing leads to, and every rail leads to a step or an end", () => {
    fc.assert(
      fc.property(anyPath, (path) => {
        expect(cyclesOf(path)).toEqual([]);
        expect(inOrder(path)).toHaveLength(path.steps.length);
        for (const to of [path.first, ...path.steps.flatMap(({ yesTo, noTo }) => [yesTo, noTo])])
          expect(isEnd(to) || path.steps.some(({ id }) => id === to)).toBe(true);
        expect(pathFindings(path, factsFor(path)).filter(({ blocking }) => blocking)).toEqual([]);
      }),
    );
  });
  it("leads every buyer to an end, whatever they answer, and asks nothing twice", () => {
    fc.assert(
      fc.property(anyPath, fc.array(fc.constantFrom<Decision>("yes", "no"), { minLength: 15, maxLength: 15 }), (path, answers) => {
        const decisions = new Map<string, Decision>();
        for (const answer of answers) {
          const at = stepAfter(path, decisions);
          if (isEnd(at)) return;
          expect(decisions.has(at)).toBe(false);
          decisions.set(at, answer);
        }
        expect(isEnd(stepAfter(path, decisions))).toBe(true);
      }),
    );
  });
  it("is walked by exactly its routes", () => {
    fc.assert(
      fc.property(anyPath, (path) => {
        for (const { answers, end } of routesOf(path, 50))
          expect(stepAfter(path, new Map(answers.map(({ step: at, decision }) => [at, decision])))).toBe(end);
      }),
    );
  });
  it("is drawn with every rail to the right, each step once, and no two in one place", () => {
    fc.assert(
      fc.property(anyPath, (path) => {
        const { stations, rails, columns } = layoutOf(path);
        expect(stations.map(({ id }) => id).sort()).toEqual(path.steps.map(({ id }) => id).sort());
        const at = new Map(stations.map((station) => [station.id, station]));
        for (const { from, to } of rails) expect(at.get(from)!.column).toBeLessThan(isEnd(to) ? columns : at.get(to)!.column);
        // A column of its own for each: a station's press reaches from its name at the top down to it.
        expect(new Set(stations.map(({ column }) => column)).size).toBe(stations.length);
        expect(rails).toHaveLength(2 * path.steps.length);
      }),
    );
  });
  it("goes without a step as if it had never been put there", () => {
    fc.assert(
      fc.property(anyPath, fc.nat(20), fc.constantFrom<Decision>("yes", "no"), (path, index, rail) => {
        const id = path.steps[index % Math.max(path.steps.length, 1)]?.id;
        const edge: Edge = id === undefined ? { from: "checkout" } : { from: id, rail };
        expect(removeStep(insertOn(path, edge, made("new")), "new")).toEqual(path);
      }),
    );
  });
  it("comes back as it was when a step is moved later and earlier again", () => {
    fc.assert(
      fc.property(anyPath, fc.nat(20), (path, index) => {
        const id = path.steps[index % Math.max(path.steps.length, 1)]?.id ?? "none";
        const later = moveLater(path, id);
        if (later !== path) expect(moveEarlier(later, id)).toEqual(path);
      }),
    );
  });
});

describe("the steps of a path", () => {
  // An offer, its downsell on the no rail, and the club for everybody.
  const path: OfferPath = {
    first: "library",
    steps: [step("library", "club", "lite"), step("lite", "club", "club"), step("club", pathEnd, pathEnd)],
  };
  it("stand and fall with what they belong to: a downsell goes with its offer", () => {
    expect(meetingOf(path, "library")).toBe("club");
    expect(blockOf(path, "library")).toEqual(["library", "lite"]);
    expect(removeStep(path, "library")).toEqual({ first: "club", steps: [step("club", pathEnd, pathEnd)] });
    expect(removeStep(path, "lite").steps[0]).toEqual(step("library", "club", "club"));
    expect(without(path, ["library", "club"])).toEqual(emptyPath);
  });
  it("change places whole, with what stands between their rails", () => {
    const moved = moveLater(path, "library");
    expect(moved.first).toBe("club");
    expect(moved.steps).toEqual([step("library", pathEnd, "lite"), step("lite", pathEnd, pathEnd), step("club", "library", "library")]);
    expect(moveEarlier(moved, "library")).toEqual(path);
    expect(moveLater(path, "club")).toBe(path);
  });
  it("are led elsewhere, but never in a circle or to nothing", () => {
    expect(rewire(path, "library", "yes", pathEnd)).toMatchObject({ first: "library", steps: [step("library", pathEnd, "lite"), {}, {}] });
    expect(rewire(path, "club", "no", "library")).toMatchObject({ code: "cycle" });
    expect(rewire(path, "club", "no", "gone")).toEqual({ code: "edge_to_nothing", to: "gone" });
  });
  it("are renamed with all that leads to them", () => {
    const copy = renamePath({ ...path, first: "thanks:x" }, { step: (id) => `${id}2`, page: (id) => `${id}3`, product: (id) => id });
    expect(copy.first).toBe("thanks:x3");
    expect(copy.steps[0]).toEqual({ ...step("library2", "club2", "lite2"), productId: "p-library", pageId: "g-library3" });
    expect(copy.steps[2]!.noTo).toBe(pathEnd);
  });
});

describe("what is found wrong with a path", () => {
  const line: OfferPath = { first: "a", steps: [step("a", "b", "b"), step("b", pathEnd, pathEnd)] };
  it("is nothing on one that can run", () => expect(codes(line)).toEqual([]));
  it("is a circle, a rail to nothing, and a step that nothing leads to", () => {
    expect(codes({ first: "a", steps: [step("a", "b", pathEnd), step("b", "a", pathEnd)] })).toContain("cycle a");
    expect(codes({ first: "a", steps: [step("a", "gone", pathEnd)] })).toEqual(["edge_to_nothing a"]);
    expect(codes({ first: "a", steps: [step("a", pathEnd, pathEnd), step("b", pathEnd, pathEnd)] })).toEqual(["unreachable b"]);
    expect(codes({ first: "gone", steps: [] })).toEqual(["edge_to_nothing checkout"]);
    expect(codes({ first: "a", steps: [step("a", "thanks:other", pathEnd)] })).toEqual(["edge_to_nothing a"]);
  });
  it("is a step without product, price or page, and a launch without a thank-you page", () => {
    const facts = factsFor(line);
    expect(codes(line, { products: { ...facts.products, "p-a": undefined } })).toEqual(["no_product a"]);
    expect(codes(line, { products: { ...facts.products, "p-a": { ...facts.products["p-a"]!, minor: 0 } } })).toEqual(["no_price a"]);
    expect(codes(line, { products: { ...facts.products, "p-a": { ...facts.products["p-a"]!, onSale: false } } })).toEqual(["not_on_sale a"]);
    expect(codes(line, { pages: { ...facts.pages, "g-b": undefined } })).toEqual(["no_page b"]);
    expect(codes(line, { pages: { ...facts.pages, "g-b": { published: false, name: "B" } } })).toEqual(["not_published b"]);
    expect(codes(line, { thanks: false })).toEqual(["no_thanks thanks"]);
  });
  it("is an offer of what everyone who comes there has bought, but not of what only some have", () => {
    const again: OfferPath = {
      first: "a",
      steps: [
        { ...step("a", "b", pathEnd), productId: "x" },
        { ...step("b", pathEnd, pathEnd), productId: "x" },
      ],
    };
    expect(codes(again)).toEqual(["sold_already b"]);
    const some: OfferPath = {
      first: "a",
      steps: [
        { ...step("a", pathEnd, "b"), productId: "x" },
        { ...step("b", pathEnd, pathEnd), productId: "x" },
      ],
    };
    expect(codes(some)).toEqual([]);
    expect(codes({ first: "a", steps: [{ ...step("a", pathEnd, pathEnd), productId: "main" }] })).toEqual(["sold_already a"]);
    const facts = factsFor(again);
    // What is part of a bundle is bought with it, and a bundle is not bought with its parts.
    const bundled = { ...facts.products, y: { ...facts.products["x"]!, id: "y", contents: ["x"] } };
    const after = (first: string, then: string): OfferPath => ({
      first: "a",
      steps: [
        { ...step("a", "b", pathEnd), productId: first },
        { ...step("b", pathEnd, pathEnd), productId: then },
      ],
    });
    expect(codes(after("y", "x"), { products: bundled })).toEqual(["sold_already b"]);
    expect(codes(after("x", "y"), { products: bundled })).toEqual([]);
    const main = { ...facts.main, contents: ["x"] };
    expect(codes(after("x", "y"), { main, products: bundled })).toEqual(["sold_already a"]);
    expect(codes(emptyPath, { main, bumps: [{ ...facts.products["x"]! }] })).toEqual(["sold_already checkout"]);
  });
  it("is a product sold alone whose checkout has bumps", () => {
    const { main } = factsFor(line);
    expect(codes(line, { main: { ...main, alone: true }, bumps: [{ ...main, id: "bump" }] })).toEqual(["alone_with_bumps checkout"]);
  });
  it("blocks where nothing could be charged or a buyer would be stuck, in words that name the step", () => {
    const circle: OfferPath = { first: "a", steps: [step("a", "b", pathEnd), step("b", "a", pathEnd)] };
    const facts = factsFor(line);
    const found = [
      ...pathFindings(circle, factsFor(circle)),
      ...pathFindings({ first: "gone", steps: [] }, facts),
      ...pathFindings(line, factsFor(line, { thanks: false })),
      ...pathFindings(line, factsFor(line, { products: { ...facts.products, "p-a": undefined }, pages: { ...facts.pages, "g-a": undefined } })),
      ...pathFindings({ first: "a", steps: [step("a", pathEnd, "gone"), step("b", pathEnd, pathEnd)] }, facts),
      ...pathFindings(line, factsFor(line, { main: { ...facts.main, alone: true }, bumps: [{ ...facts.main, id: "bump" }] })),
      ...pathFindings({ first: "a", steps: [{ ...step("a", pathEnd, pathEnd), productId: "main" }] }, { ...facts, products: { main: facts.main } }),
    ];
    expect(found.every(({ blocking }) => blocking)).toBe(true);
    expect(found.map(({ says }) => says)).toEqual([
      "The path goes in a circle: p-a, p-b, p-a.",
      "The checkout leads to nothing.",
      "No thank-you page is published.",
      "This step sells nothing yet.",
      "This step has no page.",
      "No leads to nothing.",
      "Nothing leads to p-b.",
      "The Workshop is sold alone, but its checkout has bumps.",
      "Everyone who comes here has bought The Workshop already.",
    ]);
  });
  it("is advice where a step has no price in a currency in which the main product is sold", () => {
    const facts = factsFor(line);
    const sold = (currencies: string[]) => ({
      currencies: ["EUR", "USD", "GBP"],
      products: { ...facts.products, "p-a": { ...facts.products["p-a"]!, currencies } },
    });
    expect(codes(line, sold(["EUR", "USD", "GBP"]))).toEqual([]);
    const [finding] = pathFindings(line, factsFor(line, sold(["EUR"])));
    expect(finding).toMatchObject({ code: "no_price_in_currency", at: "a", field: "price", blocking: false });
    expect(finding!.says).toBe("p-a has no price in USD and GBP, in which The Workshop is sold.");
  });
  it("has its edges where it says: three in a row and the usual distance are no advice yet", () => {
    const row = (...ids: string[]) =>
      ids.reduceRight<OfferPath>((path, id) => ({ first: id, steps: [step(id, path.first, path.first), ...path.steps] }), emptyPath);
    expect(codes(row("a", "b", "c"))).toEqual([]);
    expect(codes(row("a", "b", "c", "d"))).toEqual(["too_many a"]);
    // The longest route counts, whichever rail it takes.
    const long: OfferPath = {
      first: "a",
      steps: [step("a", pathEnd, "b"), step("b", "c", pathEnd), step("c", pathEnd, "d"), step("d", pathEnd, pathEnd)],
    };
    expect(codes(long)).toContain("too_many a");
    const facts = factsFor(line);
    const priced = (minor: number, main = facts.main.minor) => ({
      main: { ...facts.main, minor: main },
      products: { ...facts.products, "p-a": { ...facts.products["p-a"]!, minor } },
    });
    expect(codes(line, priced(5 * facts.main.minor))).toEqual([]);
    expect(codes(line, priced(5 * facts.main.minor + 1))).toEqual(["far_from_bought a"]);
    expect(codes(line, priced(5_000, 0))).toEqual([]);
  });
  it("is advice, and blocks nothing, where it is only a matter of experience", () => {
    const long = ["a", "b", "c", "d"].reduceRight<OfferPath>(
      (path, id) => ({ first: id, steps: [step(id, path.first, path.first), ...path.steps] }),
      emptyPath,
    );
    const facts = factsFor(line);
    const found = [
      ...pathFindings(long, factsFor(long)),
      ...pathFindings(line, factsFor(line, { pay: "Complete my order" })),
      ...pathFindings(line, factsFor(line, { products: { ...facts.products, "p-a": { ...facts.products["p-a"]!, minor: 99_700 } } })),
      ...pathFindings(
        { first: "a", steps: [step("a", pathEnd, "b"), { ...step("b", pathEnd, pathEnd), kind: "downsell" }] },
        {
          ...facts,
          products: { ...facts.products, "p-b": { ...facts.products["p-b"]!, minor: 6_700 } },
        },
      ),
      ...pathFindings({ first: "a", steps: [{ ...step("a", pathEnd, pathEnd), kind: "downsell" }] }, facts),
    ];
    expect(found.map(({ code }) => code)).toEqual(["too_many", "closing_words", "far_from_bought", "downsell_not_cheaper", "downsell_of_nothing"]);
    expect(found.every(({ blocking, says, why }) => !blocking && says !== "" && why !== "")).toBe(true);
  });
});

describe("the drawing of a path", () => {
  it("puts a downsell below the trunk, with room for its own yes rail", () => {
    const path: OfferPath = { first: "library", steps: [step("library", pathEnd, "lite"), step("lite", pathEnd, pathEnd)] };
    const { stations, rails, columns, up, down } = layoutOf(path);
    expect(stations).toEqual([
      { id: "library", column: 1, lane: 0 },
      { id: "lite", column: 2, lane: 2 },
    ]);
    expect(rails.map(({ from, rail, lane }) => [from, rail, lane])).toEqual([
      ["library", "yes", -1],
      ["library", "no", 2],
      ["lite", "yes", 1],
      ["lite", "no", 3],
    ]);
    expect([columns, up, down]).toEqual([3, 1, 3]);
    expect(layoutOf(emptyPath)).toEqual({ stations: [], rails: [], columns: 1, up: 0, down: 0 });
  });
});

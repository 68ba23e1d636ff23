import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { conditionOfRows, conditionSentence, isPattern, matches, readSentence, rowsOf, wholeCondition, type Condition, type History } from ".";
import { anyCondition } from "../../../tests/support/conditions";

const ids = ["0f6b2a52-6f0d-4d3c-9d5f-0c6e3a1b2c3d", "1f6b2a52-6f0d-4d3c-9d5f-0c6e3a1b2c3d"];
// Names as vendors give them: with quotation marks, brackets and words of the language itself.
const called = ['The "Gansey" (2); of product', "Lite"];
const name = (id: string) => called[ids.indexOf(id)]!;
const id = (text: string) => ids[called.indexOf(text)];
const emails = [`${ids[0]}/doors-open`, `${ids[1]}/welcome`];
const emailName = (of: string) => called[emails.indexOf(of)]!;
const names = { launch: name, product: name, step: name, partner: name, email: emailName };
const idsByName = { launch: id, product: id, step: id, partner: id, email: (text: string) => emails[called.indexOf(text)] };
const some = anyCondition({
  pages: ["sales", "episodes/1", 'a "page"'],
  sources: ["guild", "x; y", "on a page"],
  countries: ["PT", "DE", "OR"],
  products: ids,
  steps: ids,
  partners: ids,
  tags: ["vip", "within 7 days"],
  launches: ids,
  questions: ['Size "in" cm', "with"],
  answers: ["large", "at least"],
  emails,
  links: ["page sales", "https://guild.example/a?b=1"],
});

describe("a condition", () => {
  it("is said as a sentence", () => {
    const asked: Condition = {
      all: [
        { did: "saw_sales", page: { is: "starts", text: "sal" }, times: 3, withinDays: 7 },
        { none: [{ did: "paid", product: ids[1] }, { country: ["PT", "DE"] }] },
        { any: [{ source: { is: "equals", text: "guild" } }, { partner: null }, { spent: { minor: 1_234_500, currency: "EUR" } }] },
      ],
    };
    expect(conditionSentence(asked, names)).toBe(
      'all of (saw a sales page on a page starting with "sal" at least 3 times within 7 days; none of (paid of product "Lite"; is in PT or DE); ' +
        'any of (came from source "guild"; came through any partner; spent at least 12345.00 EUR))',
    );
  });
  it("is read back from its sentence, whatever things are called", () => {
    fc.assert(
      fc.property(some, (asked) => {
        expect(wholeCondition.parse(asked)).toEqual(asked);
        expect(readSentence(conditionSentence(asked, names), idsByName)).toEqual({ condition: asked });
      }),
    );
  });
  it("is read however it is spaced, and refused at the place where it makes no sense", () => {
    expect(readSentence('any of(paid;\n  came from a source containing "x" )', idsByName)).toEqual({
      condition: { any: [{ did: "paid" }, { source: { is: "contains", text: "x" } }] },
    });
    const refused = (text: string) => {
      const read = readSentence(text, idsByName);
      return "refusal" in read ? [read.refusal.code, text.slice(read.refusal.at)] : "read";
    };
    expect(refused("all of (paid; bought)")).toEqual(["unexpected", "bought)"]);
    expect(refused("paid twice")).toEqual(["unexpected", "twice"]);
    expect(refused('paid of product "No"')).toEqual(["unknown_name", '"No"']);
    expect(refused("all of (paid")).toEqual(["unexpected", ""]);
    expect(refused('is tagged "vip')).toEqual(["unexpected", '"vip']);
    expect(refused("spent at least 1.2.3 EUR")).toEqual(["unexpected", "1.2.3 EUR"]);
    expect(refused("paid within 900 days")).toEqual(["out_of_range", "900 days"]);
    expect(refused("paid at least 1 times")).toEqual(["out_of_range", "1 times"]);
    expect(refused('visited a page on a page matching "(?=x)"')).toEqual(["out_of_range", '"(?=x)"']);
    expect(refused('opted in of launch "No"')).toEqual(["unknown_name", '"No"']);
    expect(refused('answered "Yarn" a text')).toEqual(["unexpected", "a text"]);
    expect(refused("is in Portugal")).toEqual(["unexpected", "Portugal"]);
    expect(refused("")).toEqual(["unexpected", ""]);
    expect(refused("all of (".repeat(50_000))[0]).toBe("out_of_range");
  });
  it("is asked in rows and means the same, unless groups stand inside of one another", () => {
    let flat = 0;
    fc.assert(
      fc.property(some, (asked) => {
        const rows = rowsOf(asked);
        if (!rows) return;
        flat += 1;
        const again = conditionOfRows(rows)!;
        expect(rowsOf(again)).toEqual(rows.rows.length === 1 ? { ...rows, join: "all" } : rows);
        const somebody: History = { launches: [{ launchId: ids[0]!, country: "PT", source: "guild" }], events: [], orders: [], tags: ["vip"] };
        expect(matches(again, somebody, { now: new Date(0) })).toBe(matches(asked, somebody, { now: new Date(0) }));
      }),
    );
    expect(flat).toBeGreaterThan(10);
    expect(rowsOf({ all: [{ any: [{ tag: "vip" }] }] })).toBeUndefined();
    expect(conditionOfRows({ join: "any", rows: [] })).toBeUndefined();
  });
  it("is refused or read, never a failure of the program, whatever is typed", () => {
    const bits = fc.constantFrom(
      "all of",
      "(",
      ")",
      ";",
      "paid",
      "on",
      "a page",
      "containing",
      '"x"',
      '"\\q"',
      "at least",
      "2",
      "times",
      "is in",
      "or",
      "%",
    );
    fc.assert(
      fc.property(fc.array(bits, { maxLength: 12 }), (parts) => {
        const text = parts.join(" ");
        const read = readSentence(text, idsByName);
        if ("refusal" in read) expect(read.refusal.at).toBeLessThanOrEqual(text.length);
        else expect(readSentence(conditionSentence(read.condition, names), idsByName)).toEqual(read);
      }),
    );
  });
});

describe("a person's history", () => {
  const now = new Date("2026-11-20T12:00:00Z");
  const at = (days: number, hour = 12) => new Date(Date.UTC(2026, 10, 20 - days, hour));
  const view = (days: number, page = "sales", hour = 12) => ({
    launchId: "l",
    page,
    at: at(days, hour),
    kind: "saw_sales" as const,
    data: { variant: "A" },
  });
  const paid = (days: number, product: string) => ({
    launchId: "l",
    page: "checkout",
    at: at(days),
    kind: "paid" as const,
    data: { order: ids[0]!, amountMinor: 100, currency: "EUR", products: [product] },
  });
  const person = (change: Partial<History>): History => ({ launches: [], events: [], orders: [], tags: [], ...change });
  const is = (asked: Condition, change: Partial<History>, launchId?: string) => matches(asked, person(change), { now, launchId });

  it("looks back over whole days, today among them", () => {
    const twice: Condition = { did: "saw_sales", times: 2, withinDays: 7 };
    expect(is(twice, { events: [view(0), view(6, "sales", 0)] })).toBe(true);
    expect(is(twice, { events: [view(0), view(7, "sales", 23)] })).toBe(false);
    expect(is({ did: "saw_sales", withinDays: 1 }, { events: [view(1, "sales", 23)] })).toBe(false);
    expect(is({ did: "saw_sales" }, { events: [view(-1)] })).toBe(false);
  });
  it("is asked for the page, the product and the launch of each thing that was done", () => {
    const events = [view(3, "episodes/1"), paid(2, ids[0]!)];
    expect(is({ did: "saw_sales", page: { is: "matches", text: "^epi.*1$" } }, { events })).toBe(true);
    expect(is({ did: "saw_sales", page: { is: "equals", text: "episodes" } }, { events })).toBe(false);
    expect(is({ did: "paid", product: ids[0] }, { events })).toBe(true);
    expect(is({ did: "paid", product: ids[1] }, { events })).toBe(false);
    expect(is({ did: "paid" }, { events }, "other")).toBe(false);
    expect(is({ did: "paid" }, { events }, "l")).toBe(true);
  });
  it("counts money of one currency alone, and what is not known as nothing", () => {
    const orders = [
      { launchId: "l", minor: 900, currency: "EUR", at: now },
      { launchId: "m", minor: 100, currency: "EUR", at: now },
      { launchId: "l", minor: 5_000, currency: "JPY", at: now },
    ];
    expect(is({ spent: { minor: 1_000, currency: "EUR" } }, { orders })).toBe(true);
    expect(is({ spent: { minor: 1_000, currency: "EUR" } }, { orders }, "l")).toBe(false);
    expect(is({ country: ["PT"] }, { launches: [{ launchId: "l" }] })).toBe(false);
    expect(is({ none: [{ country: ["PT"] }] }, { launches: [{ launchId: "l" }] })).toBe(true);
    expect(is({ partner: null }, { launches: [{ launchId: "l" }, { launchId: "m", partnerId: ids[0] }] })).toBe(true);
  });
});

describe("a pattern", () => {
  it("is of the part of regular expressions that is read alike everywhere", () => {
    for (const good of ["sales", "^episodes/[0-9]+$", "(a|b)*c", "a{2,5}", String.raw`\.html?`, "[^a-c]x", "é"])
      expect([good, isPattern(good)]).toEqual([good, true]);
    for (const bad of [
      "",
      "(",
      "a)",
      "*a",
      "a**",
      "(?=a)",
      "(?:a)",
      "[[:alpha:]]",
      "[]a]",
      "[b-a]",
      String.raw`\d`,
      "a^b",
      "a$b",
      "(|a)",
      "a|",
      "()",
      "a{300}",
      "a{2,1}",
      "[a",
    ])
      expect([bad, isPattern(bad)]).toEqual([bad, false]);
  });
});

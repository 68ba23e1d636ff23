import { describe, expect, it } from "vitest";
import { z } from "zod";
import { formatMoney } from "../money";
import { fault, faultIssue, faultSentence, faultsOf, refusalSentence, type Fault } from ".";
import { faults } from "./en/faults";
import { refusals } from "./en/refusals";

describe("the catalogue of sentences", () => {
  it("holds whole sentences: they begin with a capital letter and end", () => {
    for (const [code, sentence] of [...Object.entries(faults), ...Object.entries(refusals)])
      if (typeof sentence === "string") expect(sentence, code).toMatch(/^[A-Z0-9].*[.?]$/);
  });
  it("makes a sentence of what a refusal knows, in the zone it names", () => {
    const closes = new Date("2026-11-27T18:00:00Z");
    expect(refusalSentence({ code: "doors_open", closes, zone: "Europe/Berlin" })).toContain("until Fri 27 Nov, 19:00");
    expect(refusalSentence({ code: "doors_closed", zone: "Europe/Lisbon" })).toBe("The doors are closed. Nothing was charged.");
    expect(refusalSentence({ code: "doors_closed", own: closes, zone: "Europe/Lisbon" })).toContain("at 18:00, Lisbon time");
    expect(refusalSentence({ code: "launch_in_use", trace: "orders" })).toBe("It cannot be deleted: orders belong to it.");
    expect(refusalSentence({ code: "launch_in_use", handsOver: "Spring" })).toContain("“Spring” hands people on");
    expect(refusalSentence({ code: "cycle", through: ["A", "B"] })).toContain("A, B.");
  });
  it("counts: one is not many", () => {
    expect(refusalSentence({ code: "limit_reached", product: "Kit", most: 1, left: 0 })).toBe(
      "You have Kit already, and one person may buy it once. Nothing was charged.",
    );
    expect(refusalSentence({ code: "limit_reached", product: "Kit", most: 3, left: 1 })).toContain("3 times; 1 is left");
    expect(refusalSentence({ code: "too_many", tried: "request", retryAfterSeconds: 1 })).toContain("Wait 1 second and");
    expect(refusalSentence({ code: "too_many", tried: "password", retryAfterSeconds: 300 })).toContain("in 5 minutes");
    expect(refusalSentence({ code: "too_large", mostBytes: 2 * 1024 * 1024 })).toContain("2 MB is the most");
  });
  it("writes amounts as the reader's locale does, whatever the language of its words", () => {
    expect(refusalSentence({ code: "only_authorized", minor: 14_900, currency: "EUR" }, "de-DE")).toContain(formatMoney(14_900, "EUR", "de-DE"));
    expect(faultSentence({ code: "least_amount", minor: 500, currency: "EUR" })).toBe("€5.00 at least.");
  });
});

describe("what a schema finds wrong", () => {
  const found = (schema: z.ZodType, value: unknown): Fault | undefined => faultsOf(schema.safeParse(value).error ?? new z.ZodError([]))[""];
  it.each([
    [z.string().max(3), "long", { code: "too_long", most: 3 }],
    [z.string().min(1), "", { code: "missing" }],
    [z.string().min(10), "short", { code: "too_short", least: 10 }],
    [z.string().min(1, fault("name_missing")), "", { code: "name_missing" }],
    [z.string().regex(/^x$/, fault("coupon_code")), "y", { code: "coupon_code" }],
    [z.number().min(0), -1, { code: "too_low", least: 0 }],
    [z.number().positive(), 0, { code: "too_low", least: 1 }],
    [z.number().max(100), 101, { code: "too_high", most: 100 }],
    [z.number().int(), 1.5, { code: "not_whole" }],
    [z.coerce.number(), "many", { code: "not_a_number" }],
    [z.array(z.string()).min(2), ["a"], { code: "too_few", least: 2 }],
    [z.array(z.string()).max(1), ["a", "b"], { code: "too_many", most: 1 }],
    [z.url(), "nowhere", { code: "not_an_address" }],
    [z.string(), 7, { code: "unreadable" }],
    [z.enum(["a"]), "b", { code: "unreadable" }],
  ] as const)("is told by the rule that was broken, or as the rule names it (%#)", (schema, value, expected) => {
    expect(found(schema, value)).toEqual(expected);
    expect(faultSentence(found(schema, value)!)).toMatch(/\.$|\?$/);
  });
  it("by a refinement is kept with what it needs to be said", () => {
    const days = z
      .object({ days: z.number() })
      .superRefine((_, context) => context.addIssue(faultIssue(["days"], { code: "retention_short", least: 30 })));
    expect(faultsOf(days.safeParse({ days: 1 }).error!)).toEqual({ days: { code: "retention_short", least: 30 } });
  });
  it("stands at the path of its field", () => {
    const nested = z.object({ lines: z.array(z.object({ name: z.string().min(1) })) });
    expect(faultsOf(nested.safeParse({ lines: [{ name: "a" }, { name: "" }] }).error!)).toEqual({ "lines.1.name": { code: "missing" } });
  });
});

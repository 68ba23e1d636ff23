import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { z } from "zod";
import { faultSentences, faultsOf } from "../words";
import {
  consentWords,
  isName,
  needsConfirmation,
  normaliseEmail,
  optInRequest,
  personCorrection,
  personEntry,
  sentByProgram,
  tag,
  timelineOf,
  type PersonEntry,
} from ".";

const field = (change: Partial<Parameters<typeof optInRequest>[0][number]>): Parameters<typeof optInRequest>[0][number] => ({
  id: "q",
  is: "own",
  label: "Which needles?",
  required: false,
  kind: "text",
  choices: [],
  ...change,
});
const sent = { email: " Ada@Wool.Example ", consent: "yes" };
const objections = (fields: Parameters<typeof optInRequest>[0], values: Record<string, string>) =>
  faultSentences(faultsOf(optInRequest(fields).safeParse(values).error ?? new z.ZodError([])));

describe("an address", () => {
  it("is compared trimmed and in small letters, however often that is done", () => {
    expect(normaliseEmail(" Ada@Wool.Example ")).toBe("ada@wool.example");
    fc.assert(fc.property(fc.string(), (typed) => void expect(normaliseEmail(normaliseEmail(typed))).toBe(normaliseEmail(typed))));
  });
});

describe("what an opt-in form sends", () => {
  it("needs an address and a tick, and nothing else where nothing else is asked", () => {
    expect(optInRequest([]).parse(sent)).toEqual({ email: "ada@wool.example", answers: {}, website: undefined });
    expect(Object.keys(objections([], { email: "ada@" }))).toEqual(["email", "consent"]);
    expect(objections([], { email: "ada@wool.example", consent: "on" })["consent"]).toContain("Tick the box");
  });
  it("is read by the form's own fields: every objection at once, each at its field", () => {
    const fields = [
      field({ is: "firstName", label: "First name", required: true }),
      field({ is: "phone", label: "Telephone" }),
      field({ kind: "choice", choices: ["Wood", "Steel"], required: true }),
    ];
    expect(objections(fields, { email: "x", phone: "call me", own_q: "Bone" })).toEqual({
      email: "This does not look like an email address. Is something missing?",
      consent: "Tick the box if you want the emails; without it we may not write to you.",
      firstName: "What may we call you?",
      phone: "Digits, with the country's code in front, such as +351 912 345 678.",
      own_q: "Choose one of the list.",
    });
    expect(optInRequest(fields).parse({ ...sent, firstName: " Ada ", phone: "+351 912 345 678", own_q: "Steel", extra: "x" })).toEqual({
      email: "ada@wool.example",
      firstName: "Ada",
      phone: "+351 912 345 678",
      answers: { "Which needles?": "Steel" },
      website: undefined,
    });
  });
  it("leaves out what was left empty, and takes nothing that was not asked", () => {
    const read = optInRequest([field({ kind: "tick" })]).parse({ ...sent, own_q: "", firstName: "Mallory", own_z: "x" });
    expect(read).toEqual({ email: "ada@wool.example", answers: {}, website: undefined });
    expect(objections([field({ required: true })], sent)).toEqual({ own_q: "This is needed." });
    expect(objections([field({})], { ...sent, own_q: "x".repeat(255) })["own_q"]).toBe("254 characters at most.");
  });
});

describe("a name", () => {
  it("is what people are called by, in any script", () => {
    for (const name of ["Ada", "Ada K. Lovelace", "O’Brien-Smith", "María José", "Jr. St. John", "李小龍", "J.R.R. Tolkien"])
      expect(isName(name), name).toBe(true);
  });
  it("is no link, no address and no second line: it comes out in emails", () => {
    for (const name of [
      "win https://x.example",
      "www.x.example",
      "x.example",
      "пример.рф",
      "a@b",
      "a/b",
      "<b>",
      "Ada\r\nBcc: x",
      "free-money.top now",
    ])
      expect(isName(name), name).toBe(false);
    expect(objections([field({ is: "firstName", label: "First name" })], { ...sent, firstName: "claim at prize.example" })["firstName"]).toContain(
      "A name alone",
    );
  });
});

describe("consent", () => {
  it("names who writes, about what, and how it ends, in every country", () => {
    for (const country of ["DE", "PT", "US", "CA", undefined]) {
      const words = consentWords("Marram & Purl", country);
      expect(words).toMatch(/^Yes, Marram & Purl may write to me about this launch\. I can .* with one click/);
    }
  });
  it("is confirmed from the inbox where the country asks for proof", () => {
    expect([needsConfirmation("DE"), needsConfirmation("AT"), needsConfirmation("PT"), needsConfirmation(undefined)]).toEqual([
      true,
      true,
      false,
      false,
    ]);
  });
  it("of a program is known by when the form was shown", () => {
    const now = new Date("2026-11-23T12:00:00Z");
    const shown = (ms: number) => sentByProgram(String(now.getTime() - ms), now);
    expect([shown(0), shown(249), shown(250), shown(40 * 86_400_000), shown(-1)]).toEqual([true, true, false, false, true]);
    expect([sentByProgram(undefined, now), sentByProgram("soon", now)]).toEqual([true, true]);
  });
});

describe("the timeline of a person", () => {
  const at = (seconds: number) => new Date(Date.UTC(2026, 10, 23, 12, 0, seconds));
  const kinds = ["touch", "opt_in", "checkout", "order", "email", "refund"] as const;
  const entry = (is: (typeof kinds)[number], seconds: number): PersonEntry => {
    const sum = { minor: 100, currency: "EUR" };
    const of = {
      touch: { partner: "Skerry" },
      opt_in: { page: "", confirmed: true },
      checkout: {},
      order: { order: "o", number: 1, ...sum },
      email: { kind: "receipt", subject: null },
      refund: { order: "o", ...sum },
    };
    return personEntry.parse({ at: at(seconds), launch: null, is, ...of[is] });
  };
  it("stands in time, and at one instant what led there before what followed", () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.constantFrom(...kinds), fc.integer({ min: 0, max: 3 })), { maxLength: 20 }), (drawn) => {
        const entries = drawn.map(([is, seconds]) => entry(is, seconds));
        const sorted = timelineOf(entries);
        expect(sorted).toHaveLength(entries.length);
        for (const [index, one] of sorted.slice(1).entries()) {
          const before = sorted[index]!;
          expect(before.at.getTime()).toBeLessThanOrEqual(one.at.getTime());
          if (before.at.getTime() === one.at.getTime())
            expect(kinds.indexOf(before.is as "touch")).toBeLessThanOrEqual(kinds.indexOf(one.is as "touch"));
        }
        expect(timelineOf(sorted)).toEqual(sorted);
      }),
    );
  });
});

describe("what the desk corrects of a person", () => {
  const whole = { email: " Greet@Heddle.Example ", firstName: "Greet", lastName: "", phone: "", country: "", zone: "", language: "", answers: {} };
  it("is an address in lower case, names that are names, and a country or none", () => {
    expect(personCorrection.parse(whole).email).toBe("greet@heddle.example");
    const wrong = (change: Partial<typeof whole>) => personCorrection.safeParse({ ...whole, ...change }).success;
    expect([
      wrong({ email: "greet" }),
      wrong({ firstName: "www.elsewhere.example" }),
      wrong({ country: "XX" }),
      wrong({ country: "DE" }),
      wrong({ zone: "Europe/Atlantis" }),
      wrong({ language: "xx" }),
    ]).toEqual([false, false, false, true, false, false]);
  });
  it("is a tag of a word or some", () => {
    expect(tag.parse("  spinner ")).toBe("spinner");
    expect([tag.safeParse("  ").success, tag.safeParse("x".repeat(61)).success]).toEqual([false, false]);
  });
});

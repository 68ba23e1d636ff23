import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { guessColumns, importChoices, importedInto, knownRules, readImportRow, type ImportChoices, type ImportRow, type KnownPerson } from ".";

const now = new Date("2026-11-20T12:00:00Z");
const choices = (change: Partial<ImportChoices> = {}): ImportChoices =>
  importChoices.parse({
    columns: [
      { is: "email" },
      { is: "firstName" },
      { is: "country" },
      { is: "tags" },
      { is: "consentAt" },
      { is: "answer", question: "Needles" },
      { is: "skip" },
    ],
    known: "fill",
    consent: { words: "Yes, write to me about knitting.", at: null },
    tag: "moved in",
    ...change,
  });
const read = (...cells: string[]) => readImportRow(cells, choices(), now);
const faults = (...cells: string[]) => {
  const found = read(...cells);
  return "faults" in found ? found.faults.map(({ column, fault }) => [column, fault.code]) : "read";
};

describe("a line of a file of people", () => {
  it("is read as its columns say, with the tag for all", () => {
    expect(read(" Una@Heddle.Example ", "Una", "Portugal", "vip; fair, vip", "2026-03-01", " 5 mm ", "ignored")).toEqual({
      row: {
        email: "una@heddle.example",
        firstName: "Una",
        lastName: "",
        phone: "",
        country: "PT",
        tags: ["vip", "fair", "moved in"],
        answers: { Needles: "5 mm" },
        consentAt: new Date("2026-03-01T00:00:00Z"),
      },
    });
    // Short lines are of people of whom less is known; without the instant they did not agree.
    expect(read("una@heddle.example")).toMatchObject({ row: { firstName: "", country: "", consentAt: null, answers: {} } });
    expect(read("una@heddle.example", "", "pt", "", "2026-03-01T20:00+01:00")).toMatchObject({
      row: { country: "PT", consentAt: new Date("2026-03-01T19:00:00Z") },
    });
  });
  it("is refused with all that is wrong, each with its column", () => {
    expect(faults("una at heddle", "www.elsewhere.example", "Atlantis", "", "31.12.2025")).toEqual([
      [0, "not_an_email"],
      [1, "not_a_name"],
      [2, "country_unknown"],
      [4, "instant_unread"],
    ]);
    expect(faults("una@heddle.example", "", "", "", "2026-02-31")).toEqual([[4, "instant_unread"]]);
    expect(faults("una@heddle.example", "", "", "", "2027-01-01")).toEqual([[4, "in_the_future"]]);
    expect(faults("una@heddle.example", "", "", "", "", "", "", "one", "more")).toEqual([[undefined, "cells_more"]]);
    expect(faults("una@heddle.example", "", "", "", "", "", "", " ", "")).toBe("read");
    expect(faults("")).toEqual([[0, "not_an_email"]]);
  });
  it("is read as it was written where a spreadsheet's guard stands before it", () => {
    const phones = choices({
      columns: [
        { is: "email", question: "" },
        { is: "phone", question: "" },
      ],
      consent: null,
    });
    expect(readImportRow(["una@heddle.example", "'+351 912 345 678"], phones, now)).toMatchObject({ row: { phone: "+351 912 345 678" } });
    expect(readImportRow(["una@heddle.example", "'tis"], phones, now)).toMatchObject({ row: { phone: "'tis" } });
  });
  it("is of nobody who agreed where the file is of people who did not", () => {
    expect(readImportRow(["una@heddle.example", "", "", "", "2026-03-01"], choices({ consent: null }), now)).toMatchObject({
      row: { consentAt: null },
    });
  });
});

describe("the choices of an import", () => {
  it("need an address, each column once, the words that were agreed to, and when", () => {
    const wrong = (change: object) => {
      const parsed = importChoices.safeParse({ ...choices(), ...change });
      return parsed.success ? [] : parsed.error.issues.map(({ path, message }) => `${path.join(".")}: ${message}`);
    };
    expect(wrong({})).toEqual([]);
    expect(wrong({ columns: [{ is: "skip" }], consent: null })).toEqual(["columns: email_column_missing"]);
    expect(wrong({ columns: [{ is: "email" }, { is: "email" }], consent: null })).toEqual(["columns: column_twice"]);
    expect(wrong({ columns: [{ is: "email" }, { is: "answer" }], consent: null })).toEqual(["columns: question_missing"]);
    expect(wrong({ consent: { words: "yes", at: null } })).toEqual(["consent.words: consent_words_missing"]);
    expect(wrong({ columns: [{ is: "email" }] })).toEqual(["consent.at: consent_at_missing"]);
  });
  it("are guessed from the heads of the columns, each of ours once", () => {
    expect(guessColumns(["E-Mail", "Vorname", "Email address", "Favourite yarn", "Opt-in date"]).map(({ is }) => is)).toEqual([
      "email",
      "firstName",
      "skip",
      "skip",
      "consentAt",
    ]);
  });
});

describe("somebody who is known", () => {
  const text = fc.constantFrom("", "Una", "Greet");
  const instant = fc.option(fc.date({ min: new Date("2025-01-01"), max: now, noInvalidDate: true }));
  const answers = fc.dictionary(fc.constantFrom("Needles", "Yarn"), fc.constantFrom("5 mm", "wool"));
  const known: fc.Arbitrary<KnownPerson> = fc.record({
    firstName: text,
    lastName: text,
    phone: text,
    country: fc.constantFrom("", "PT", "DE"),
    answers,
    consentAt: instant,
    unsubscribedAt: instant,
  });
  const row: fc.Arbitrary<ImportRow> = fc.record({
    email: fc.constant("una@heddle.example"),
    firstName: text,
    lastName: text,
    phone: text,
    country: fc.constantFrom("", "PT", "DE"),
    answers,
    tags: fc.constant([]),
    consentAt: instant,
  });
  it("is never agreed for anew, loses nothing that the file does not say, and is the same after the same line again", () => {
    fc.assert(
      fc.property(known, row, fc.constantFrom(...knownRules), (was, line, rule) => {
        const is = importedInto(was, line, rule);
        if (was.consentAt) expect(is.consentAt).toEqual(was.consentAt);
        if (was.unsubscribedAt) expect(is).toMatchObject({ consentAt: was.consentAt, unsubscribedAt: was.unsubscribedAt });
        for (const name of ["firstName", "lastName", "phone", "country"] as const) {
          if (line[name] === "" || rule === "keep") expect(is[name]).toBe(was[name]);
          else if (rule === "replace" || was[name] === "") expect(is[name]).toBe(line[name]);
          else expect(is[name]).toBe(was[name]);
        }
        for (const question of Object.keys(was.answers)) if (rule !== "replace") expect(is.answers[question]).toBe(was.answers[question]);
        expect(importedInto(is, line, rule)).toEqual(is);
      }),
    );
  });
});

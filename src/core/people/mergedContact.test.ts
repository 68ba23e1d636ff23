import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { mergedContact, type ContactRecord } from ".";

const instant = fc
  .date({ min: new Date("2026-01-01"), max: new Date("2026-01-04"), noInvalidDate: true })
  .map((at) => new Date(Math.floor(at.getTime() / 86_400_000) * 86_400_000));
const text = fc.constantFrom("", "a", "b");
const record: fc.Arbitrary<ContactRecord> = fc
  .record({
    id: fc.uuid(),
    createdAt: instant,
    firstName: text,
    lastName: text,
    phone: text,
    country: text,
    zone: text,
    language: text,
    answers: fc.dictionary(fc.constantFrom("Needles", "Yarn"), fc.constantFrom("5 mm", "wool")),
    consentAt: fc.option(instant),
    unsubscribedAt: fc.option(instant),
    fewerSince: fc.option(instant),
    passwordHash: fc.option(fc.constantFrom("x", "y")),
  })
  .map((made) => ({ ...made, consentText: made.consentAt && `words of ${made.id}` }));

describe("two records of one person", () => {
  it("make the same record whichever comes first", () => {
    fc.assert(
      fc.property(record, record, (a, b) => {
        fc.pre(a.id !== b.id);
        expect(mergedContact(a, b)).toEqual(mergedContact(b, a));
      }),
    );
  });
  it("lose nothing that one of them alone holds, and never agree for somebody who has unsubscribed", () => {
    fc.assert(
      fc.property(record, record, (a, b) => {
        const merged = mergedContact(a, b);
        for (const name of ["firstName", "lastName", "phone", "country", "zone", "language"] as const)
          expect(merged[name] === "").toBe(a[name] === "" && b[name] === "");
        expect(Object.keys(merged.answers).sort()).toEqual([...new Set([...Object.keys(a.answers), ...Object.keys(b.answers)])].sort());
        expect(merged.unsubscribedAt === null).toBe(a.unsubscribedAt === null && b.unsubscribedAt === null);
        expect(merged.fewerSince === null).toBe(a.fewerSince === null && b.fewerSince === null);
        expect(merged.consentAt === null).toBe(a.consentAt === null && b.consentAt === null);
        if (merged.consentAt) expect(merged.consentText).toBe(`words of ${[a, b].find(({ consentText }) => consentText === merged.consentText)!.id}`);
      }),
    );
  });
});

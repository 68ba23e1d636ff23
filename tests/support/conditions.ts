import fc from "fast-check";
import { eventKinds, mailDeeds, type Condition, type Did, type Mailed, type TextTest } from "../../src/core/conditions";
import { devices } from "../../src/core/events";

/** Patterns that the core and the database must read alike. */
export const somePattern = fc.constantFrom("^epi", "s$", "o.t", "(sales|optin)", "^episodes/[0-9]+$", "[a-f]{2,3}x?", "^.*[^0-9]$", "a+b*|op");

const textTest = (texts: fc.Arbitrary<string>): fc.Arbitrary<TextTest> =>
  fc.oneof(
    fc.record({ is: fc.constantFrom("equals" as const, "contains" as const, "starts" as const), text: texts }),
    fc.record({ is: fc.constant("matches" as const), text: somePattern }),
  );

/** Closings that emails may have stated. */
export const closings = ["2026-12-04T19:00:00Z", "2026-12-05T19:00:00Z", "2026-12-06T19:00:00Z"] as const;

interface Things {
  pages: string[];
  sources: string[];
  countries: string[];
  products: string[];
  steps: string[];
  partners: string[];
  tags: string[];
  launches: string[];
  questions: string[];
  answers: string[];
  /** By `emailRef`. */
  emails: string[];
  links: string[];
}

/** Any condition about these things. */
export const anyCondition = (things: Things): fc.Arbitrary<Condition> => {
  const one = (all: string[]) => fc.constantFrom(...all);
  const maybe = <T>(value: fc.Arbitrary<T>) => fc.option(value, { nil: undefined });
  const did: fc.Arbitrary<Did> = fc
    .record({
      did: fc.constantFrom(...eventKinds),
      launch: maybe(one(things.launches)),
      page: maybe(textTest(one(things.pages))),
      product: maybe(one(things.products)),
      step: maybe(one(things.steps)),
      withinDays: maybe(fc.integer({ min: 1, max: 40 })),
      times: maybe(fc.integer({ min: 2, max: 4 })),
    })
    .map((made) => Object.fromEntries(Object.entries(made).filter(([, value]) => value !== undefined)) as Did);
  const mailed: fc.Arbitrary<Mailed> = fc
    .record({
      mailed: fc.constantFrom(...mailDeeds),
      email: maybe(one(things.emails)),
      link: maybe(textTest(one(things.links))),
      withinDays: maybe(fc.integer({ min: 1, max: 40 })),
    })
    .map(({ link, ...made }) => (made.mailed === "clicked" ? { ...made, link } : made))
    .map((made) => Object.fromEntries(Object.entries(made).filter(([, value]) => value !== undefined)) as Mailed);
  const simple: fc.Arbitrary<Condition> = fc.oneof(
    { weight: 5, arbitrary: did },
    { weight: 3, arbitrary: mailed },
    fc.uniqueArray(one(things.countries), { minLength: 1, maxLength: 3 }).map((country) => ({ country })),
    textTest(one(things.sources)).map((source) => ({ source })),
    fc.constantFrom(...devices).map((device) => ({ device })),
    fc.option(one(things.partners)).map((partner) => ({ partner })),
    one(things.tags).map((tag) => ({ tag })),
    fc.record({ question: one(things.questions), text: textTest(one(things.answers)) }).map((answered) => ({ answered })),
    fc
      .record({ launch: one(things.launches), than: fc.constantFrom(...closings), after: fc.constantFrom("2026-11-01T00:00:00Z", ...closings) })
      .map((toldOther) => ({ toldOther })),
    fc.constant({ mayWrite: true as const }),
    fc.record({ minor: fc.integer({ min: 1, max: 40_000 }), currency: fc.constantFrom("EUR", "JPY") }).map((spent) => ({ spent })),
  );
  const { condition } = fc.letrec<{ condition: Condition }>((tie) => {
    const parts = fc.array(tie("condition"), { minLength: 1, maxLength: 3 });
    return {
      condition: fc.oneof(
        { maxDepth: 3, withCrossShrink: true },
        simple,
        parts.map((all) => ({ all })),
        parts.map((any) => ({ any })),
        parts.map((none) => ({ none })),
      ),
    };
  });
  return condition;
};

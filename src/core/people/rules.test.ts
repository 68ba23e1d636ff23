import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { answerFault, guessPlace, languageNames, lookSince, personField, whomToAsk } from ".";

const at = (ms: number) => new Date(Date.UTC(2026, 10, 27) + ms);
const minutes = (n: number) => n * 60_000;

describe("whom a rule looks at", () => {
  it("is nobody where nothing changed, those who changed, or everybody once an hour", () => {
    const progress = { lookedAt: at(0), everybodyAt: at(0) };
    expect(whomToAsk(progress, 0, at(minutes(1)))).toBe("nobody");
    expect(whomToAsk(progress, 7, at(minutes(1)))).toBe("changed");
    expect(whomToAsk(progress, 0, at(minutes(60)))).toBe("everybody");
  });
  it("is everybody, once a minute at most, where too many changed to tell them one by one", () => {
    const progress = { lookedAt: at(0), everybodyAt: at(0) };
    expect(whomToAsk(progress, undefined, at(minutes(0.5)))).toBe("nobody");
    expect(whomToAsk(progress, undefined, at(minutes(1)))).toBe("everybody");
  });
  it("omits no instant since it looked last, whichever way the clock was set", () => {
    fc.assert(
      fc.property(fc.integer(), fc.integer(), (looked, now) => {
        const since = lookSince({ lookedAt: at(looked), everybodyAt: at(0) }, at(now));
        expect(since < at(looked)).toBe(true);
        expect(since < at(now)).toBe(true);
      }),
    );
  });
});

describe("a field of the vendor's own", () => {
  it("holds one of its choices, a tick, or any text that is not too long", () => {
    const field = { name: "Size", kind: "choice" as const, choices: ["S", "M"] };
    expect(answerFault(field, "M")).toBeUndefined();
    expect(answerFault(field, "")).toBeUndefined();
    expect(answerFault(field, "XL")).toEqual({ code: "not_of_the_list" });
    expect(answerFault({ name: "Tick", kind: "tick", choices: [] }, "maybe")).toEqual({ code: "not_of_the_list" });
    expect(answerFault(undefined, "anything")).toBeUndefined();
    expect(answerFault(undefined, "x".repeat(2_001))).toMatchObject({ code: "too_long" });
    expect(personField.safeParse({ name: "Size", kind: "choice", choices: [] }).success).toBe(false);
  });
});

describe("where somebody is and what they read", () => {
  it("is taken from their browser where it says what exists", () => {
    expect(guessPlace("Europe/Lisbon", "pt-PT,pt;q=0.9,en;q=0.8")).toEqual({ guessedZone: "Europe/Lisbon", guessedLanguage: "pt" });
    expect(guessPlace("Atlantis/Capital", "xx-XX")).toEqual({ guessedZone: undefined, guessedLanguage: undefined });
    expect(guessPlace("+01:00", "*")).toEqual({ guessedZone: undefined, guessedLanguage: undefined });
    expect(guessPlace(undefined, undefined)).toEqual({ guessedZone: undefined, guessedLanguage: undefined });
  });
  // ISO 639-1 has 183 languages (value from memory); CLDR names them all, and a few of its own beside them.
  it("is named for every language of ISO 639-1", () => {
    expect(Object.keys(languageNames()).length).toBeGreaterThanOrEqual(183);
    expect(languageNames()).toMatchObject({ de: "German", cy: "Welsh", zh: "Chinese" });
  });
});

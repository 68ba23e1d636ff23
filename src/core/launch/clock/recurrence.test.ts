import ICAL from "ical.js";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { faultSentences } from "../../words";
import { anyWall, sourceFor } from "../../../../tests/support/plans";
import {
  nextOpenings,
  partsOf,
  recurrenceRefusal,
  recurrenceWords,
  ruleOf,
  settingFaults,
  wallTimeOf,
  windowAround,
  windowsBetween,
  type RuleParts,
  type Weekday,
} from "..";

const rule = (text: string, first = "1997-09-02T09:00", zone = "America/New_York", lengthMinutes = 60) => ({
  rule: text,
  first,
  zone,
  lengthMinutes,
});
const days = (recurrence: ReturnType<typeof rule>, n: number) =>
  nextOpenings(recurrence, new Date(0), n).map((at) => wallTimeOf(at, recurrence.zone));
/** The same rule expanded by ical.js, in floating wall time. */
const byIcal = (recurrence: ReturnType<typeof rule>, n: number): string[] => {
  const iterator = ICAL.Recur.fromString(recurrence.rule).iterator(ICAL.Time.fromDateTimeString(`${recurrence.first}:00`));
  const found: string[] = [];
  for (let next = iterator.next() as ICAL.Time | null; next && found.length < n; next = iterator.next() as ICAL.Time | null)
    found.push(next.toString().slice(0, 16));
  return found;
};

// RFC 5545 §3.8.5.3, values from memory; ical.js confirms each of them below.
const published: [name: string, first: string, rule: string, on: string[]][] = [
  [
    "daily for 10 occurrences",
    "1997-09-02",
    "FREQ=DAILY;COUNT=10",
    ["09-02", "09-03", "09-04", "09-05", "09-06", "09-07", "09-08", "09-09", "09-10", "09-11"],
  ],
  [
    "weekly for 10 occurrences",
    "1997-09-02",
    "FREQ=WEEKLY;COUNT=10",
    ["09-02", "09-09", "09-16", "09-23", "09-30", "10-07", "10-14", "10-21", "10-28", "11-04"],
  ],
  [
    "weekly on Tuesday and Thursday for five weeks",
    "1997-09-02",
    "FREQ=WEEKLY;COUNT=10;WKST=SU;BYDAY=TU,TH",
    ["09-02", "09-04", "09-09", "09-11", "09-16", "09-18", "09-23", "09-25", "09-30", "10-02"],
  ],
  [
    "every other week on Tuesday and Thursday, for 8 occurrences",
    "1997-09-02",
    "FREQ=WEEKLY;INTERVAL=2;COUNT=8;WKST=SU;BYDAY=TU,TH",
    ["09-02", "09-04", "09-16", "09-18", "09-30", "10-02", "10-14", "10-16"],
  ],
  [
    "monthly on the first Friday for 10 occurrences",
    "1997-09-05",
    "FREQ=MONTHLY;COUNT=10;BYDAY=1FR",
    ["09-05", "10-03", "11-07", "12-05", "01-02", "02-06", "03-06", "04-03", "05-01", "06-05"],
  ],
  [
    "every other month on the first and last Sunday for 10 occurrences",
    "1997-09-07",
    "FREQ=MONTHLY;INTERVAL=2;COUNT=10;BYDAY=1SU,-1SU",
    ["09-07", "09-28", "11-02", "11-30", "01-04", "01-25", "03-01", "03-29", "05-03", "05-31"],
  ],
  [
    "monthly on the second-to-last Monday for 6 months",
    "1997-09-22",
    "FREQ=MONTHLY;COUNT=6;BYDAY=-2MO",
    ["09-22", "10-20", "11-17", "12-22", "01-19", "02-16"],
  ],
  ["monthly on the third-to-last day", "1997-09-28", "FREQ=MONTHLY;BYMONTHDAY=-3", ["09-28", "10-29", "11-28", "12-29", "01-29", "02-26"]],
  [
    "monthly on the 2nd and 15th for 10 occurrences",
    "1997-09-02",
    "FREQ=MONTHLY;COUNT=10;BYMONTHDAY=2,15",
    ["09-02", "09-15", "10-02", "10-15", "11-02", "11-15", "12-02", "12-15", "01-02", "01-15"],
  ],
  [
    "monthly on the first and last day for 10 occurrences",
    "1997-09-30",
    "FREQ=MONTHLY;COUNT=10;BYMONTHDAY=1,-1",
    ["09-30", "10-01", "10-31", "11-01", "11-30", "12-01", "12-31", "01-01", "01-31", "02-01"],
  ],
  [
    "every 18 months on the 10th to 15th for 10 occurrences",
    "1997-09-10",
    "FREQ=MONTHLY;INTERVAL=18;COUNT=10;BYMONTHDAY=10,11,12,13,14,15",
    ["09-10", "09-11", "09-12", "09-13", "09-14", "09-15", "03-10", "03-11", "03-12", "03-13"],
  ],
  [
    "the third Tuesday, Wednesday or Thursday of a month, for 3 months",
    "1997-09-04",
    "FREQ=MONTHLY;COUNT=3;BYDAY=TU,WE,TH;BYSETPOS=3",
    ["09-04", "10-07", "11-06"],
  ],
  [
    "a day that a month does not have is left out",
    "2007-01-15",
    "FREQ=MONTHLY;BYMONTHDAY=15,30;COUNT=5",
    ["01-15", "01-30", "02-15", "03-15", "03-30"],
  ],
];

describe("a recurrence", () => {
  it.each(published)("of RFC 5545: %s", (_, first, text, on) => {
    const recurrence = rule(text, `${first}T09:00`);
    expect(days(recurrence, on.length).map((wall) => wall.slice(5))).toEqual(on.map((day) => `${day}T09:00`));
    expect(days(recurrence, on.length)).toEqual(byIcal(recurrence, on.length));
  });
  it("keeps its time on the wall across a change of the clocks", () => {
    const openings = nextOpenings(rule("FREQ=WEEKLY;COUNT=10"), new Date(0), 10);
    // Eastern Daylight Time ended on 26 October 1997.
    expect(openings[7]!.toISOString()).toBe("1997-10-21T13:00:00.000Z");
    expect(openings[8]!.toISOString()).toBe("1997-10-28T14:00:00.000Z");
  });

  it("on a day that skips its time opens when the clocks have moved, as a wall time of its own would", () => {
    // Lisbon skips 01:00 to 02:00 on 29 March 2026. RFC 5545 §3.3.10 would let the opening fall out; nobody is served by that.
    const sundays = rule("FREQ=WEEKLY;BYDAY=SU", "2026-03-22T01:30", "Europe/Lisbon");
    expect(days(sundays, 3)).toEqual(["2026-03-22T01:30", "2026-03-29T02:30", "2026-04-05T01:30"]);
  });
  it.each([
    ["FREQ=WEEKLY;UNTIL=19970916T130000Z", 3],
    ["FREQ=WEEKLY;UNTIL=19970916T125959Z", 2],
    ["FREQ=WEEKLY;UNTIL=19970916", 3],
    ["FREQ=WEEKLY;UNTIL=19970916T085900", 2],
  ])("ends with %s", (text, n) => expect(days(rule(text), 9)).toHaveLength(n));

  const anyParts: fc.Arbitrary<RuleParts> = fc.record({
    every: fc.integer({ min: 1, max: 4 }),
    unit: fc.constantFrom("week", "month_day", "month_weekday"),
    days: fc.subarray<Weekday>(["MO", "TU", "WE", "TH", "FR", "SA", "SU"]),
    times: fc.option(fc.integer({ min: 1, max: 30 })),
  });
  it("made from plain parts expands as ical.js expands it, and reads back as its parts", () => {
    fc.assert(
      fc.property(anyParts, anyWall, fc.constantFrom("Europe/Lisbon", "Australia/Lord_Howe", "Asia/Kolkata"), (parts, first, zone) => {
        const text = ruleOf(parts, first);
        const recurrence = rule(text, first, zone);
        const ours = days(recurrence, 14);
        const theirs = byIcal(recurrence, 14);
        expect(ours.map((wall) => wall.slice(0, 10))).toEqual(theirs.map((wall) => wall.slice(0, 10)));
        // A wall time that the zone skips is moved; every other stays.
        for (let i = 0; i < ours.length; i += 1)
          if (ours[i] !== theirs[i]) expect(Math.abs(Date.parse(`${ours[i]}Z`) - Date.parse(`${theirs[i]}Z`))).toBeLessThanOrEqual(3_600_000);
        expect(ruleOf(partsOf(text)!, first)).toBe(text);
      }),
      { numRuns: 80 },
    );
  });
  it("answers the window that is open, else the next, else the last", () => {
    const twice = rule("FREQ=WEEKLY;COUNT=2", "2026-11-02T10:00", "Europe/Lisbon", 1440);
    const at = (text: string) => windowAround(twice, new Date(text))!.opens.toISOString().slice(0, 10);
    expect(at("2026-10-01T00:00Z")).toBe("2026-11-02");
    expect(at("2026-11-03T09:59Z")).toBe("2026-11-02");
    expect(at("2026-11-03T10:00Z")).toBe("2026-11-09");
    expect(at("2030-01-01T00:00Z")).toBe("2026-11-09");
    expect(windowsBetween(twice, new Date("2026-11-03T10:00Z"), new Date("2026-11-09T10:00Z"))).toEqual([]);
  });
  it("without end is found however far ahead one asks", () => {
    const weekly = rule("FREQ=WEEKLY;BYDAY=MO", "2026-11-02T10:00", "Europe/Lisbon", 60);
    expect(wallTimeOf(windowAround(weekly, new Date("2044-05-03T12:00Z"))!.opens, "Europe/Lisbon")).toBe("2044-05-09T10:00");
  });
  it("is refused where it is none, comes too often, never, or before the doors have closed", () => {
    const refused = (text: string, length = 60) => recurrenceRefusal(rule(text, undefined, undefined, length))?.code;
    expect(refused("FREQ=HOURLY")).toBe("too_often");
    expect(refused("FREQ=DAILY;BYHOUR=9,10")).toBe("too_often");
    expect(refused("FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30")).toBe("never_occurs");
    expect(refused("FREQ=WEEKLY;BYDAY=TU,WE", 1441)).toBe("windows_overlap");
    expect(refused("FREQ=WEEKLY;BYDAY=TU,WE", 1440)).toBeUndefined();
  });
  it.each([
    ["every monday", { code: "part_unknown", part: "EVERY MONDAY" }],
    ["FREQ=WEEKLY;EXDATE=20261102T100000Z", { code: "part_unknown", part: "EXDATE" }],
    ["FREQ=YEARLY;BYEASTER=0", { code: "part_unknown", part: "BYEASTER" }],
    ["FREQ=WEEKLY;constructor=1", { code: "part_unknown", part: "CONSTRUCTOR" }],
    ["FREQ=WEEKLY;FREQ=DAILY", { code: "part_twice", part: "FREQ" }],
    ["FREQ=WEEKLY;BYDAY=XX", { code: "part_wrong", part: "BYDAY", value: "XX" }],
    ["FREQ=WEEKLY;BYDAY=", { code: "part_wrong", part: "BYDAY", value: "" }],
    ["FREQ=MONTHLY;BYMONTHDAY=32", { code: "part_wrong", part: "BYMONTHDAY", value: "32" }],
    ["FREQ=MONTHLY;BYMONTHDAY=0", { code: "part_wrong", part: "BYMONTHDAY", value: "0" }],
    ["FREQ=YEARLY;BYMONTH=13", { code: "part_wrong", part: "BYMONTH", value: "13" }],
    ["FREQ=YEARLY;BYMONTH=-1", { code: "part_wrong", part: "BYMONTH", value: "-1" }],
    ["FREQ=DAILY;COUNT=-1", { code: "part_wrong", part: "COUNT", value: "-1" }],
    ["FREQ=DAILY;COUNT=0", { code: "part_wrong", part: "COUNT", value: "0" }],
    ["FREQ=DAILY;INTERVAL=0", { code: "part_wrong", part: "INTERVAL", value: "0" }],
    ["FREQ=DAILY;UNTIL=20260230", { code: "part_wrong", part: "UNTIL", value: "20260230" }],
    ["FREQ=MONTHLY;BYDAY=6MO", { code: "part_wrong", part: "BYDAY", value: "6MO" }],
    ["FREQ=DAILY;COUNT=3;UNTIL=20261231", { code: "parts_clash", part: "COUNT", with: "UNTIL" }],
    ["FREQ=WEEKLY;BYDAY=1MO", { code: "parts_clash", part: "BYDAY", with: "FREQ=WEEKLY" }],
    ["FREQ=WEEKLY;BYMONTHDAY=3", { code: "parts_clash", part: "BYMONTHDAY", with: "FREQ=WEEKLY" }],
    ["FREQ=MONTHLY;BYYEARDAY=3", { code: "parts_clash", part: "BYYEARDAY", with: "FREQ=MONTHLY" }],
    ["FREQ=MONTHLY;BYSETPOS=1", { code: "parts_clash", part: "BYSETPOS", with: "" }],
    ["BYDAY=MO", { code: "parts_clash", part: "FREQ", with: "" }],
  ])("of RFC 5545 §3.3.10 says which part of “%s” is not possible", (text, refusal) => {
    expect(recurrenceRefusal(rule(text))).toEqual(refusal);
    const clock = { kind: "recurring" as const, first: "2026-11-02T10:00", rule: text, lengthMinutes: 60 };
    const sentence = faultSentences(settingFaults(sourceFor({ clock })))["clock.rule"];
    expect(sentence).toContain("part" in refusal && refusal.part !== "FREQ" ? refusal.part : "");
    expect(sentence?.length).toBeGreaterThan(20);
  });
  it("begins in a year of which every opening can be counted", () => {
    const first = (wall: string) => recurrenceRefusal(rule("FREQ=DAILY", wall))?.code;
    expect(first("1206-01-01T10:00")).toBe("first_out_of_range");
    expect(first("9000-01-01T10:00")).toBe("first_out_of_range");
    expect(first("2026-01-01T10:00")).toBeUndefined();
  });
  it("answers the same whatever was asked before: yearly on 29 February", () => {
    const leap = (n: number) => rule("FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29", "2024-02-29T10:00", "Europe/Lisbon", 60 + n);
    const at = new Date("2025-06-01T12:00Z");
    const asked = leap(0);
    const fresh = windowAround(asked, at);
    expect(fresh?.opens.toISOString()).toBe("2028-02-29T10:00:00.000Z");
    const openings = nextOpenings(asked, at, 9);
    // Other questions, near and far, change nothing of the first answer.
    for (const far of ["2044-05-03T12:00Z", "2096-03-01T12:00Z", "2025-06-01T12:00Z"]) windowAround(asked, new Date(far));
    expect(windowAround(asked, at)).toEqual(fresh);
    expect(nextOpenings(asked, at, 9)).toEqual(openings);
    // 2100 is no leap year: eight years lie between.
    expect(windowAround(asked, new Date("2097-01-01T12:00Z"))?.opens.toISOString()).toBe("2104-02-29T10:00:00.000Z");
  });
  it("answers the same in whatever order it is asked", () => {
    const someRule = fc.constantFrom("FREQ=WEEKLY;BYDAY=MO", "FREQ=MONTHLY;BYMONTHDAY=31", "FREQ=YEARLY", "FREQ=DAILY;INTERVAL=999;COUNT=4");
    const moments = fc.uniqueArray(fc.integer({ min: 0, max: 30 * 366 }), { minLength: 2, maxLength: 5 });
    let n = 0;
    fc.assert(
      fc.property(someRule, moments, (text, all) => {
        // A length of its own makes no rule of its own: the first date does.
        const own = () =>
          rule(text, `2026-01-31T${String((n += 1) % 24).padStart(2, "0")}:${String(Math.floor(n / 24) % 60).padStart(2, "0")}`, "UTC", 60);
        const one = own();
        const of = (recurrence: typeof one, dayNumber: number) =>
          windowAround(recurrence, new Date(Date.UTC(2026, 0, 1) + dayNumber * 86_400_000))?.opens.getTime();
        const inOrder = all.map((moment) => of(one, moment));
        const other = { ...one, zone: "Etc/UTC" };
        const backwards = [...all].reverse().map((moment) => of(other, moment));
        expect(backwards.reverse()).toEqual(inOrder);
      }),
      { numRuns: 20 },
    );
  });
  it("is said in plain words", () => {
    expect(recurrenceWords(rule("FREQ=WEEKLY;INTERVAL=2;BYDAY=MO"))).toMatch(/every 2 weeks on monday/i);
    expect(recurrenceWords(rule("FREQ=WEEKLY;UNTIL=19970916T130000Z"))).toMatch(/every week.*, until 1997-09-16 09:00/i);
    expect(partsOf("FREQ=YEARLY;BYMONTH=6")).toBeUndefined();
    expect(ruleOf({ every: 1, unit: "month_weekday", days: [], times: null }, "2026-01-30T10:00")).toBe("FREQ=MONTHLY;BYDAY=-1FR");
  });
});

import { Temporal as OtherTemporal } from "@js-temporal/polyfill";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { isZone, resolveWallTime, wallTimeOf, wallTimeRemark, wallTimeWords, type ResolvedWallTime } from "..";

const resolved = (typed: string, zone: string) => resolveWallTime(typed, zone) as ResolvedWallTime;

describe("a wall time in a zone", () => {
  // IANA time zone database, published transitions.
  it.each([
    ["2026-03-29T02:30", "Europe/Berlin", "gap", "2026-03-29T03:30", "2026-03-29T01:30:00.000Z"],
    ["2026-10-25T02:30", "Europe/Berlin", "overlap", "2026-10-25T02:30", "2026-10-25T00:30:00.000Z"],
    ["2026-11-01T01:30", "America/New_York", "overlap", "2026-11-01T01:30", "2026-11-01T05:30:00.000Z"],
    ["2026-10-04T02:15", "Australia/Lord_Howe", "gap", "2026-10-04T02:45", "2026-10-03T15:45:00.000Z"],
    ["2011-12-30T12:00", "Pacific/Apia", "gap", "2011-12-31T12:00", "2011-12-30T22:00:00.000Z"],
    ["2026-11-27T18:00", "Europe/Lisbon", "exact", "2026-11-27T18:00", "2026-11-27T18:00:00.000Z"],
  ])("%s in %s is %s and becomes %s", (typed, zone, status, becomes, instant) => {
    expect(resolved(typed, zone)).toEqual({ instant: new Date(instant), status, becomes });
  });

  it("agrees with a second Temporal for any time in zones with odd shifts", () => {
    const zones = [
      "Europe/Lisbon",
      "America/New_York",
      "Australia/Lord_Howe",
      "Pacific/Apia",
      "Asia/Kathmandu",
      "America/St_Johns",
      "Antarctica/Troll",
      "Europe/Dublin",
      "Africa/Casablanca",
    ];
    const wall = fc.record({
      zone: fc.constantFrom(...zones),
      at: fc.date({ min: new Date("2011-01-01"), max: new Date("2037-01-01"), noInvalidDate: true }),
    });
    fc.assert(
      fc.property(wall, ({ zone, at }) => {
        const typed = at.toISOString().slice(0, 16);
        const other = OtherTemporal.PlainDateTime.from(typed).toZonedDateTime(zone, { disambiguation: "compatible" });
        expect(resolved(typed, zone).instant.getTime()).toBe(other.epochMilliseconds);
        expect(resolved(typed, zone).becomes).toBe(other.toPlainDateTime().toString({ smallestUnit: "minute" }));
      }),
      { numRuns: 400 },
    );
  });

  it("comes back from its instant, unless DST skips it", () => {
    fc.assert(
      fc.property(fc.date({ min: new Date("2020-01-01"), max: new Date("2035-01-01"), noInvalidDate: true }), (at) => {
        const typed = at.toISOString().slice(0, 16);
        const { instant, becomes } = resolved(typed, "Europe/Lisbon");
        expect(wallTimeOf(instant, "Europe/Lisbon")).toBe(becomes);
      }),
    );
  });

  it("refuses what is no zone and no time, as data", () => {
    expect(resolveWallTime("2026-11-27T18:00", "Europe/Atlantis")).toEqual({ code: "unknown_zone", zone: "Europe/Atlantis" });
    expect(resolveWallTime("2026-02-30T18:00", "Europe/Lisbon")).toEqual({ code: "not_a_wall_time", typed: "2026-02-30T18:00" });
    expect(resolveWallTime("tomorrow", "Europe/Lisbon")).toEqual({ code: "not_a_wall_time", typed: "tomorrow" });
    expect(isZone("+01:00")).toBe(false);
    expect(isZone("")).toBe(false);
  });

  it("says what a skipped or doubled time becomes", () => {
    expect(wallTimeRemark(resolved("2026-03-29T02:30", "Europe/Berlin"), "Europe/Berlin")).toContain("it becomes 03:30 on 2026-03-29");
    expect(wallTimeRemark(resolved("2026-10-25T02:30", "Europe/Berlin"), "Europe/Berlin")).toContain("happens twice");
    expect(wallTimeRemark(resolved("2026-10-26T02:30", "Europe/Berlin"), "Europe/Berlin")).toBeUndefined();
  });
});

describe("a typed moment in words", () => {
  const bell = (label: string, at: string) => ({ label, at: new Date(at) });
  it("says the weekday, what DST makes of it, and how far the next landmark is", () => {
    const bells = [bell("Doors close", "2026-11-30T00:00:00Z"), bell("Price changes", "2026-11-27T20:10:00Z")];
    expect(wallTimeWords("2026-11-27T18:00", "Europe/Lisbon", bells)).toBe(
      "Friday 27 November 2026 at 18:00, Lisbon time. Price changes: 2 hours 10 minutes later.",
    );
    expect(wallTimeWords("2026-11-27T20:10", "Europe/Lisbon", bells)).toContain("Doors close: 2 days 4 hours later.");
    expect(wallTimeWords("2026-11-01T18:00", "Europe/Lisbon", bells)).toContain("Price changes: 26 days later.");
    expect(wallTimeWords("2026-12-24T18:00", "Europe/Lisbon", bells)).toBe("Thursday 24 December 2026 at 18:00, Lisbon time.");
    expect(wallTimeWords("2027-03-28T02:30", "Europe/Berlin", [bell("Doors close", "2027-03-28T02:00:00Z")])).toBe(
      "The clocks in Europe/Berlin skip this time; it becomes 03:30 on 2027-03-28. Doors close: 30 minutes later.",
    );
    expect(wallTimeWords("", "Europe/Berlin")).toBeUndefined();
    expect(wallTimeWords("2026-11-27T18:00", "Europe/Nowhere")).toBeUndefined();
  });
});

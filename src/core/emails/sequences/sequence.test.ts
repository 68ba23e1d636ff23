import { Temporal as Other } from "@js-temporal/polyfill";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { StepSetting } from "../../launch";
import { stepDueAt, stepOvertaken } from "..";

const step = (id: string, minutes: number, time: string | null = null): StepSetting => ({ id, minutes, time, when: null });
const moment = new Date("2026-11-27T18:30:00Z");
const zones = ["Europe/Lisbon", "America/New_York", "Australia/Lord_Howe", "Pacific/Apia", "Asia/Kathmandu", "America/Santiago"];

describe("a step of a sequence", () => {
  it("goes so long after the moment", () => {
    expect(stepDueAt(step("a", 180), moment, "Europe/Lisbon")).toEqual(new Date("2026-11-27T21:30:00Z"));
  });
  it("waits for a time of day in its reader's zone, the next day where that has passed", () => {
    expect(stepDueAt(step("a", 0, "08:00"), moment, "Europe/Lisbon")).toEqual(new Date("2026-11-28T08:00:00Z"));
    expect(stepDueAt(step("a", 0, "08:00"), moment, "Pacific/Auckland")).toEqual(new Date("2026-11-27T19:00:00Z"));
    expect(stepDueAt(step("a", 0, "18:30"), moment, "Europe/Lisbon")).toEqual(moment);
    expect(stepDueAt(step("a", 1, "18:30"), moment, "Europe/Lisbon")).toEqual(new Date("2026-11-28T18:30:00Z"));
  });
  it("keeps the hour on the wall where the clocks change, and takes one that is left out an hour later", () => {
    // IANA: Lisbon goes from 01:00 to 02:00 on 29 March 2026, and back from 02:00 to 01:00 on 25 October.
    expect(stepDueAt(step("a", 1440, "08:00"), new Date("2026-03-28T06:30:00Z"), "Europe/Lisbon")).toEqual(new Date("2026-03-29T07:00:00Z"));
    expect(stepDueAt(step("a", 0, "01:30"), new Date("2026-03-29T00:10:00Z"), "Europe/Lisbon")).toEqual(new Date("2026-03-29T01:30:00Z"));
    expect(stepDueAt(step("a", 0, "01:30"), new Date("2026-10-24T23:10:00Z"), "Europe/Lisbon")).toEqual(new Date("2026-10-25T00:30:00Z"));
  });
  it("is never early, at most a day and the clocks' hours late, and at the hour it names, as another implementation of Temporal reads it", () => {
    fc.assert(
      fc.property(
        fc.date({ min: new Date("2025-01-01T00:00:00Z"), max: new Date("2028-01-01T00:00:00Z"), noInvalidDate: true }),
        fc.integer({ min: 0, max: 20_000 }),
        fc.integer({ min: 0, max: 1439 }),
        fc.constantFrom(...zones),
        (at, minutes, of, zone) => {
          const time = `${String(Math.floor(of / 60)).padStart(2, "0")}:${String(of % 60).padStart(2, "0")}`;
          const due = stepDueAt(step("a", minutes, time), at, zone);
          const waited = due.getTime() - at.getTime() - minutes * 60_000;
          expect(waited).toBeGreaterThanOrEqual(0);
          expect(waited).toBeLessThanOrEqual(27 * 3_600_000);
          const wall = Other.Instant.fromEpochMilliseconds(due.getTime()).toZonedDateTimeISO(zone);
          const asked = wall.toPlainDate().toPlainDateTime(time).toZonedDateTime(zone);
          expect(wall.epochMilliseconds).toBe(asked.epochMilliseconds);
        },
      ),
    );
  });
  it("is not sent where the next is due as well, or two days late", () => {
    const steps = [step("one", 0), step("two", 1440), step("three", 2880)];
    const late = (hours: number) =>
      steps.map((one) => stepOvertaken(one, { steps }, moment, "Europe/Lisbon", new Date(moment.getTime() + hours * 3_600_000)));
    expect(late(1)[0]).toBeUndefined();
    expect(late(25)).toEqual(["next_is_due", undefined, undefined]);
    expect(late(49)).toEqual(["next_is_due", "next_is_due", undefined]);
    expect(late(97)[2]).toBe("too_late");
  });
});

import fc from "fast-check";
import { expect, it } from "vitest";
import { oneOffBegins, oneOffDueAt, oneOffMayBecome, oneOffStates } from ".";

const zones = Intl.supportedValuesOf("timeZone");

it("goes at one instant to everybody, or at the same hour on each reader's wall", () => {
  const at = new Date("2026-12-03T18:00:00Z");
  expect(oneOffDueAt({ at, wall: null }, "Asia/Kathmandu")).toEqual(at);
  const wall = { at: null, wall: "2026-12-03T18:00" };
  expect(oneOffDueAt(wall, "Europe/Lisbon")).toEqual(at);
  expect(oneOffDueAt(wall, "America/New_York")).toEqual(new Date("2026-12-03T23:00:00Z"));
  expect(oneOffDueAt(wall, "Asia/Kathmandu")).toEqual(new Date("2026-12-03T12:15:00Z"));
});

it("begins before it goes to anybody, in whichever zone", () => {
  const day = fc.date({ min: new Date("2026-01-01T00:00:00Z"), max: new Date("2030-01-01T00:00:00Z"), noInvalidDate: true });
  fc.assert(
    fc.property(day, fc.constantFrom(...zones), (date, zone) => {
      const timing = { at: null, wall: date.toISOString().slice(0, 16) };
      expect(oneOffBegins(timing).getTime()).toBeLessThanOrEqual(oneOffDueAt(timing, zone).getTime());
    }),
  );
});

it("never goes again once it was called off, and can be called off until then", () => {
  expect(oneOffMayBecome.cancelled).toEqual([]);
  for (const state of ["scheduled", "sending", "paused"] as const) expect(oneOffMayBecome[state]).toContain("cancelled");
  for (const state of oneOffStates) expect(oneOffMayBecome[state]).not.toContain("draft");
});

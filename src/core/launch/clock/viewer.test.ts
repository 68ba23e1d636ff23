import { describe, expect, it } from "vitest";
import { after, day, minute, personalClock, planFor, weeklyClock } from "../../../../tests/support/plans";
import { asOf, phaseFor, windowAndPhase, windowFor, windowsFor, type Viewer } from "..";

const t = new Date("2026-11-20T18:00:00Z");
const opens = t;
const closes = new Date("2026-11-27T00:00:00Z");

describe("what is known of a person at an instant", () => {
  const facts = ["checkoutBegunAt", "orderedAt", "subscribedAt"] as const;
  it("is what had happened by then, that instant included", () => {
    for (const fact of facts) {
      const who: Viewer = { seated: true, [fact]: t };
      expect(asOf(who, t)).toBe(who);
      expect(asOf(who, after(t, 1))).toBe(who);
      expect(asOf(who, after(t, -1))).toMatchObject({ seated: true, [fact]: undefined });
    }
    const stopped: Viewer = { stop: { at: t, handedTo: "primer" } };
    expect(asOf(stopped, t)).toBe(stopped);
    expect(asOf(stopped, after(t, -1)).stop).toBeUndefined();
    const twice: Viewer = { starts: [t, after(t, day)] };
    expect(asOf(twice, after(t, day))).toBe(twice);
    expect(asOf(twice, after(t, day - 1)).starts).toEqual([t]);
    expect(asOf(twice, after(t, -1)).starts).toEqual([]);
  });
  it("keeps what had happened beside what had not", () => {
    const who: Viewer = { starts: [t], stop: { at: t }, checkoutBegunAt: t, orderedAt: after(t, 2), subscribedAt: t, seated: true };
    expect(asOf(who, after(t, 1))).toEqual({ ...who, orderedAt: undefined });
    expect(asOf({ orderedAt: after(t, 2) }, t)).toEqual({});
    expect(asOf({}, t)).toEqual({});
  });
});

describe("the windows of a person", () => {
  it("are the launch's own where it has dates, touched by a stretch that is half-open as they are", () => {
    const plan = planFor();
    const touching = (from: Date, to: Date) => windowsFor(plan, {}, from, to).length;
    expect([touching(opens, after(opens, 1)), touching(after(closes, -1), closes), touching(after(opens, -day), after(closes, day))]).toEqual([
      1, 1, 1,
    ]);
    expect([touching(after(opens, -day), opens), touching(closes, after(closes, day))]).toEqual([0, 0]);
    // A start of their own counts only where each has their own clock.
    expect(windowsFor(plan, { starts: [after(closes, 5 * day)] }, closes, after(closes, 9 * day))).toEqual([]);
  });
  it("begin with each start of a clock of their own, and the newest that has begun holds", () => {
    const plan = planFor({ clock: { ...personalClock, rearm: { restMinutes: 60, times: 2 } } });
    const second = after(t, 5 * day);
    const who = { starts: [t, second] };
    expect(windowFor(plan, who, after(t, -1))).toBeUndefined();
    expect(windowFor(plan, who, after(second, -1))).toEqual({ opens: t, closes: after(t, 3 * day) });
    expect(windowFor(plan, who, second)).toEqual({ opens: second, closes: after(second, 3 * day) });
    expect(windowsFor(plan, who, after(t, day), after(t, 2 * day))).toHaveLength(1);
    expect(windowsFor(plan, who, t, after(second, 1))).toHaveLength(2);
    expect(windowsFor(plan, {}, t, closes)).toEqual([]);
  });
  it("of a clock that repeats come again", () => {
    expect(windowsFor(planFor({ clock: weeklyClock }), {}, t, after(t, 21 * day))).toHaveLength(3);
  });
});

describe("the phase of a person", () => {
  it("stays where it stood when their clock was stopped, and goes on where it was not", () => {
    const plan = planFor({ clock: personalClock });
    const stop = { at: after(t, day) };
    const who: Viewer = { starts: [t], stop };
    expect(phaseFor(plan, who, after(t, 9 * day))).toBe("during");
    expect(phaseFor(plan, { starts: [t] }, after(t, 9 * day))).toBe("after");
    expect(phaseFor(plan, {}, t)).toBe("before");
    // A stop that lies ahead changes nothing yet; at its instant it does.
    expect(phaseFor(plan, { starts: [t], stop: { at: after(t, 4 * day) } }, after(t, 3 * day + minute))).toBe("after");
    expect(phaseFor(plan, { starts: [t], stop: { at: after(t, 3 * day) } }, after(t, 3 * day))).toBe("after");
    // Doors with dates close for whoever was stopped as well.
    expect(phaseFor(planFor(), { stop: { at: opens } }, closes)).toBe("after");
    expect(windowAndPhase(plan, who, after(t, 9 * day)).window).toEqual({ opens: t, closes: after(t, 3 * day) });
  });
});

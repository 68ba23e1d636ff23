import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { overtaken as overtakenIn, type HungEmail } from ".";

const window = { opens: new Date("2026-11-20T18:00:00Z"), closes: new Date("2026-11-27T00:00:00Z") };
const day = { id: "last-day", hangsOn: "closing", minutes: -1440, time: null } as const;
const hour = { id: "last-hour", hangsOn: "closing", minutes: -60, time: null } as const;
const open = { id: "open", hangsOn: "opening", minutes: 0, time: null } as const;
const after = { id: "after", hangsOn: "closing", minutes: 60, time: null } as const;
const all = [day, hour, open, after];
const zone = "Europe/Lisbon";
const overtaken = (email: HungEmail, emails: readonly HungEmail[], of: typeof window, at: Date) =>
  overtakenIn(email, { emails, window: of, zone }, at);
/** So many minutes before the doors close. */
const before = (minutes: number) => new Date(window.closes.getTime() - minutes * 60_000);

describe("an email that hangs on a bell", () => {
  it("goes while what it says is true", () => {
    expect(overtaken(day, all, window, before(1440))).toBeUndefined();
    expect(overtaken(day, all, window, before(1380))).toBeUndefined();
    expect(overtaken(hour, all, window, before(60))).toBeUndefined();
    expect(overtaken(hour, all, window, before(20))).toBeUndefined();
    expect(overtaken(open, all, window, before(600))).toBe("too_late");
    expect(overtaken(open, all, window, new Date(window.opens.getTime() + 3_600_000))).toBeUndefined();
    expect(overtaken(after, all, window, before(-90))).toBeUndefined();
  });
  it("that says “in a day” is dropped with half a day left, and with an hour left in favour of the one that says so", () => {
    expect(overtaken(day, [day], window, before(719))).toBe("too_late");
    expect(overtaken(day, all, window, before(60))).toBe("next_is_due");
  });
  it("about the last hour is dropped after the close, a minute later as well as 34 hours", () => {
    for (const minutes of [0, 1, 34 * 60]) expect(overtaken(hour, all, window, before(-minutes))).toBe("doors_closed");
  });
  it("about the close itself is dropped when it is old news", () => {
    expect(overtaken(after, all, window, before(-60 - 49 * 60))).toBe("too_late");
  });
  it("never goes beyond the bell that it leads up to, whatever the emails and the instant", () => {
    fc.assert(
      fc.property(
        fc.record({
          hangsOn: fc.constantFrom("opening" as const, "closing" as const),
          minutes: fc.integer({ min: -20_000, max: -1 }),
          time: fc.constant(null),
        }),
        fc.integer({ min: 0, max: 60_000 }),
        (email, later) => {
          const bell = email.hangsOn === "opening" ? window.opens : window.closes;
          expect(overtaken({ id: "x", ...email }, [{ id: "x", ...email }], window, new Date(bell.getTime() + later * 60_000))).toBeDefined();
        },
      ),
    );
  });
  it("that was said to be dropped stays so: once untrue, it does not become true again", () => {
    fc.assert(
      fc.property(fc.constantFrom(...all), fc.integer({ min: 0, max: 20_000 }), fc.integer({ min: 0, max: 20_000 }), (email, from, more) => {
        const at = new Date(window.opens.getTime() + from * 60_000);
        if (overtaken(email, all, window, at)) expect(overtaken(email, all, window, new Date(at.getTime() + more * 60_000))).toBeDefined();
      }),
    );
  });
});

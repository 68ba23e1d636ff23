import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { recoveryDueAt, recoveryStop } from ".";

const window = { opens: new Date("2026-11-20T18:00:00Z"), closes: new Date("2026-11-27T00:00:00Z") };
const lastActivityAt = new Date("2026-11-25T10:00:00Z");
const open = { lastActivityAt, paid: false, unsubscribed: false };
const minutes = (n: number) => new Date(lastActivityAt.getTime() + n * 60_000);

describe("the email to a lost buyer", () => {
  it("is due the set delay after the last activity", () => {
    expect(recoveryDueAt(lastActivityAt, 30, window)).toEqual(minutes(30));
    expect(recoveryStop(open, 30, window, minutes(30))).toBeUndefined();
  });
  it("is not planned for after the closing bell", () => {
    expect(recoveryDueAt(new Date(window.closes.getTime() - 30 * 60_000), 30, window)).toBeUndefined();
    expect(recoveryDueAt(new Date(window.closes.getTime() - 30 * 60_000 - 1), 30, window)).toBeDefined();
  });
  it("is stopped by a purchase, an unsubscribe and the bell", () => {
    expect(recoveryStop({ ...open, paid: true }, 30, window, minutes(30))).toBe("paid");
    expect(recoveryStop({ ...open, unsubscribed: true }, 30, window, minutes(30))).toBe("unsubscribed");
    expect(recoveryStop(open, 30, window, window.closes)).toBe("doors_closed");
  });
  it("waits while the checkout is being used", () => {
    expect(recoveryStop({ ...open, lastActivityAt: minutes(20) }, 30, window, minutes(30))).toBe("active_again");
  });
  it("never goes where a reason stands against it, at any instant", () => {
    fc.assert(
      fc.property(
        fc.boolean(),
        fc.boolean(),
        fc.integer({ min: 0, max: 6000 }),
        fc.integer({ min: 1, max: 600 }),
        (paid, unsubscribed, later, delay) => {
          const at = minutes(later);
          const goes = recoveryStop({ ...open, paid, unsubscribed }, delay, window, at) === undefined;
          expect(goes).toBe(!paid && !unsubscribed && at < window.closes && later >= delay);
        },
      ),
    );
  });
});

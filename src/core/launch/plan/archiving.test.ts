import { describe, expect, it } from "vitest";
import { after, minute, personalClock, planFor, weeklyClock } from "../../../../tests/support/plans";
import { archiveRefusal, plannedPages } from "..";

const [opens, closes] = [new Date("2026-11-20T18:00:00Z"), new Date("2026-11-27T00:00:00Z")];

describe("archiving a launch", () => {
  it("waits until its doors have closed and the grace time is over", () => {
    const plan = planFor();
    expect(archiveRefusal(plan, after(opens, -1))).toEqual({ code: "doors_will_open", opens });
    expect(archiveRefusal(plan, opens)).toEqual({ code: "doors_open", closes });
    const over = after(closes, plan.settings.graceMinutes * minute);
    expect(archiveRefusal(plan, after(over, -1))).toEqual({ code: "doors_open", closes });
    expect(archiveRefusal(plan, over)).toBeUndefined();
  });
  it("waits for the last time of one that recurs, and for ever where each person has a clock", () => {
    const twice = planFor({ clock: { ...weeklyClock, kind: "recurring", rule: "FREQ=WEEKLY;BYDAY=MO;COUNT=2" } as never });
    expect(archiveRefusal(twice, new Date("2026-11-06T12:00:00Z"))).toMatchObject({ code: "doors_will_open" });
    expect(archiveRefusal(twice, new Date("2026-11-13T12:00:00Z"))).toBeUndefined();
    expect(archiveRefusal(planFor({ clock: weeklyClock }), new Date("2030-01-04T12:00:00Z"))).toMatchObject({ code: "doors_will_open" });
    expect(archiveRefusal(planFor({ clock: personalClock }), closes)).toEqual({ code: "always_on" });
  });
  it("is always possible while nothing of it is public", () => {
    for (const clock of [undefined, weeklyClock, personalClock]) {
      const unpublished = plannedPages("full").map(({ key }) => key);
      expect(archiveRefusal(planFor({ clock, unpublished }), opens)).toBeUndefined();
    }
  });
});

import { describe, expect, it } from "vitest";
import { fixedClock, personalClock, planFor, weeklyClock } from "../../../tests/support/plans";
import { byRank, comingBells, launchLine, timeLeft } from "./launchLines";

// The doors of the fixed clock: 20 November 2026, 18:00, to 27 November, 0:00, in Lisbon.
const [before, during, over] = ["2026-11-20T16:00:00Z", "2026-11-25T12:30:00Z", "2026-11-28T00:00:00Z"].map((at) => new Date(at)) as [
  Date,
  Date,
  Date,
];
const fixed = planFor({ clock: fixedClock });
const lineAt = (now: Date, plan = fixed, clocks = 0) =>
  launchLine({ plan, name: plan.name, since: new Date("2026-10-01T00:00:00Z"), currency: "EUR", clocks }, now);

describe("the line of a launch among all launches", () => {
  it("says where the doors stand, and for how long", () => {
    expect(lineAt(before).status).toBe("Run-up; doors open in 2 h 0 min");
    expect(lineAt(during).status).toBe("Doors open; they close in 1 d 11 h");
    expect(lineAt(over).status).toBe("Closed");
  });
  it("counts clocks where each person has their own", () => {
    const plan = planFor({ clock: personalClock, shape: "short" });
    expect(lineAt(during, plan, 1).status).toBe("Always on; 1 clock runs");
    expect(lineAt(during, plan, 1204).status).toBe("Always on; 1,204 clocks run");
  });
  it("is a draft while a page that it needs is not published, unless it is over", () => {
    const plan = { ...fixed, pages: fixed.pages.map((page) => ({ ...page, published: page.kind !== "sales" })) };
    expect(lineAt(during, plan)).toMatchObject({ draft: true, status: "Draft: 1 needed page is not published" });
    expect(lineAt(over, plan)).toMatchObject({ draft: false, status: "Closed" });
  });
  it("shows money only where something was sold", () => {
    expect(lineAt(during)).toMatchObject({ money: "–", counts: "0 people" });
    const sold = launchLine(
      { plan: fixed, name: "", since: during, currency: "EUR", clocks: 0, figures: { people: 1, orders: 2, grossMinor: 29_800 } },
      during,
    );
    expect(sold).toMatchObject({ money: "€298.00", counts: "2 orders, 1 person" });
  });
});

describe("launches in a row", () => {
  const personal = planFor({ clock: personalClock, shape: "short" });
  it("begin with what rings next, then what is always on, and end with what is over", () => {
    const weekly = planFor({ clock: weeklyClock });
    const later = planFor({ clock: { kind: "fixed", runUp: "2026-12-01T10:00", opens: "2026-12-11T18:00", closes: "2026-12-20T00:00" } });
    const gone = planFor({ clock: { kind: "fixed", runUp: "2026-09-01T10:00", opens: "2026-09-11T18:00", closes: "2026-09-20T00:00" } });
    const longGone = planFor({ clock: { kind: "fixed", runUp: "2025-09-01T10:00", opens: "2025-09-11T18:00", closes: "2025-09-20T00:00" } });
    const row = [longGone, personal, later, gone, fixed, weekly].map((plan) => ({ plan })).sort(byRank(during));
    expect(row.map(({ plan }) => plan)).toEqual([weekly, fixed, later, personal, gone, longGone]);
  });
  it("ring their next bells in time, none that has rung", () => {
    const coming = comingBells(
      [
        { plan: fixed, name: "Gansey" },
        { plan: personal, name: "Primer" },
      ],
      during,
      7,
    );
    expect(coming.length).toBeGreaterThan(0);
    expect(coming.every(({ bell, name }) => bell.at > during && name === "Gansey")).toBe(true);
    expect(coming.map(({ bell }) => bell.at.getTime())).toEqual(coming.map(({ bell }) => bell.at.getTime()).sort((a, b) => a - b));
    expect(comingBells([{ plan: fixed, name: "" }], over, 7)).toEqual([]);
  });
  it("tell what is left in days and hours, then in hours and minutes", () => {
    const now = new Date(0);
    expect([59, 60, 1439, 1440, 3000].map((minutes) => timeLeft(new Date(minutes * 60_000), now))).toEqual([
      "0 h 59 min",
      "1 h 0 min",
      "23 h 59 min",
      "1 d 0 h",
      "2 d 2 h",
    ]);
  });
});

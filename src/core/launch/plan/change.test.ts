import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { faultSentences } from "../../words";
import { after, anyWall, changeSummary, day, minute, personalClock, planFor, sourceFor, weeklyClock } from "../../../../tests/support/plans";
import {
  bellOf,
  bells,
  moveBell,
  onNewDates,
  planOf,
  resolveWallTime,
  settingFaults,
  turnPersonal,
  wallTimeOf,
  type Audience,
  type LaunchSettings,
  type LaunchSource,
} from "..";

const now = new Date("2026-11-23T12:00:00Z");
const nobody: Audience = { watching: 0, buyers: 0 };
const moved = (source: LaunchSource, key: string, to: Date): LaunchSettings => {
  const bell = bells(planOf(source), { starts: [now] }).find((other) => other.name === key)!;
  return moveBell(source, bell, to)!;
};
const at = (source: LaunchSource, settings: LaunchSettings, key: string) =>
  bells(planOf({ ...source, settings }), { starts: [now] }).find((bell) => bell.name === key)!.at;

describe("moving a bell", () => {
  const source = sourceFor();
  it("takes along all that hangs on it: emails, looks, gates and the grace", () => {
    const later = new Date("2026-11-28T00:00:00Z");
    const settings = moved(source, "closing", later);
    for (const [key, before] of [
      ["closing", 0],
      ["stage:last-hour", 60],
      ["email:last-day", 1440],
      ["grace_end", -10],
    ] as const)
      expect(at(source, settings, key)).toEqual(after(later, -before * minute));
    expect(at(source, settings, "email:doors-open")).toEqual(at(source, source.settings, "email:doors-open"));
  });
  it("leaves an email or a look where it is dropped, hung on the same bell", () => {
    for (const key of ["email:last-day", "stage:last-day"]) {
      const to = after(at(source, source.settings, key), -90 * minute);
      expect(at(source, moved(source, key, to), key)).toEqual(to);
    }
  });
  it("lands on the wall time that was meant, for any bell and any moment", () => {
    fc.assert(
      fc.property(
        anyWall,
        fc.constantFrom("opening", "closing", "run_up"),
        fc.constantFrom("Europe/Lisbon", "Australia/Lord_Howe"),
        (wall, key, zone) => {
          const there = sourceFor({ zone });
          const resolved = resolveWallTime(wall, zone);
          if (!("instant" in resolved)) throw new Error("no wall time");
          const settings = moved(there, key, resolved.instant);
          const field = { opening: "opens", closing: "closes", run_up: "runUp" } as const;
          expect(settings.clock).toMatchObject({ [field[key]]: resolved.becomes });
        },
      ),
    );
  });
  it("of a clock that repeats moves them all: the time of day, or the length", () => {
    const weekly = sourceFor({ clock: weeklyClock });
    expect(moved(weekly, "opening", new Date("2026-11-02T12:30:00Z")).clock).toMatchObject({ first: "2026-11-02T12:30" });
    const closes = at(weekly, weekly.settings, "closing");
    expect(moved(weekly, "closing", after(closes, day)).clock).toMatchObject({ lengthMinutes: 4 * 1440 });
  });
  it("of a person's own clock moves everyone's length; when it starts is theirs", () => {
    const own = sourceFor({ clock: personalClock });
    expect(moved(own, "closing", after(now, 5 * day)).clock).toMatchObject({ length: { minutes: 5 * 1440 } });
    expect(moveBell(own, bellOf({ kind: "start" }, now, "", now), after(now, day))).toBeUndefined();
    expect(moveBell(own, bellOf({ kind: "grace_end" }, now, ""), after(now, day))).toBeUndefined();
  });
});

describe("what a change does", () => {
  const source = sourceFor();
  const audience: Audience = { ...nobody, watching: 612 };
  it("is said in numbers: how many people's countdown moves, and by how much", () => {
    const summary = changeSummary(source, moved(source, "closing", new Date("2026-11-28T00:00:00Z")), audience, now);
    expect(summary.countdowns).toEqual([{ minutes: 1440, people: 612 }]);
    expect(summary.warnings).toEqual([{ code: "closing_later", people: 612 }]);
    expect(summary.moved.map(({ key }) => key)).toEqual(expect.arrayContaining(["closing#1", "stage:last-day#1", "email:last-hour#1"]));
    expect(summary.moved.every(({ from, to }) => to!.getTime() - from!.getTime() === day)).toBe(true);
  });
  it("warns of a closing brought forward, of an opening moved, and of doors that shut at once", () => {
    const earlier = changeSummary(source, moved(source, "closing", after(now, -minute)), audience, now);
    expect(earlier.warnings).toEqual([{ code: "closing_earlier", people: 612 }]);
    expect(earlier.shut).toBe(612);
    const before = new Date("2026-11-15T12:00:00Z");
    expect(changeSummary(source, moved(source, "opening", new Date("2026-11-21T18:00:00Z")), audience, before).warnings).toEqual([
      { code: "opening_moved", people: 612 },
    ]);
  });
  it("warns of nothing where nobody was promised anything", () => {
    expect(changeSummary(source, moved(source, "closing", new Date("2026-11-28T00:00:00Z")), nobody, now).warnings).toEqual([]);
  });
  it("counts each person by their own clock, and whose clock has run out not at all", () => {
    const own = sourceFor({ clock: personalClock });
    const starts = (daysAgo: number) => ({ starts: [after(now, -daysAgo * day)] });
    const longer = { ...own.settings, clock: { ...personalClock, length: { kind: "exact" as const, minutes: 4 * 1440 } } };
    const summary = changeSummary(own, longer, { ...nobody, persons: [starts(1), starts(2), starts(3.5), starts(9)] }, now);
    expect(summary.countdowns).toEqual([{ minutes: 1440, people: 3 }]);
    expect(summary.reopened).toBe(1);
  });
  it("warns of seats that were not the last ones and of a price that falls behind the buyers", () => {
    const few = sourceFor({ settings: { seats: 100 } });
    expect(changeSummary(few, { ...few.settings, seats: 120 }, nobody, now).warnings).toEqual([{ code: "more_seats", from: 100, to: 120 }]);
    expect(changeSummary(few, { ...few.settings, seats: null }, nobody, now).warnings).toEqual([{ code: "more_seats", from: 100, to: null }]);
    const cheaper = { ...source.settings, prices: [{ id: "p", from: "2026-11-24T00:00", minor: 9_900 }] };
    expect(changeSummary(source, cheaper, { ...nobody, buyers: 83 }, now).warnings).toEqual([
      { code: "price_falls", fromMinor: 14_900, toMinor: 9_900, buyers: 83 },
    ]);
  });
  it("says where emails come from from then on, where that changes", () => {
    const sender = { name: "The Workshop", email: "workshop@marram.example" };
    const own = sourceFor({ settings: { sender } });
    const says = (of: typeof source, next: LaunchSettings["sender"]) => changeSummary(of, { ...of.settings, sender: next }, nobody, now).sender;
    expect(says(source, sender)).toBe("The Workshop <workshop@marram.example>");
    expect(says(source, { ...sender, name: "" })).toBe("workshop@marram.example");
    expect(says(own, null)).toBeNull();
    expect(says(own, { ...sender })).toBeUndefined();
  });
  it("of nothing is nothing", () => {
    expect(changeSummary(source, source.settings, audience, now)).toEqual({
      moved: [],
      sequences: [],
      countdowns: [],
      reopened: 0,
      shut: 0,
      warnings: [],
    });
  });
});

describe("a copy on new dates", () => {
  const wallDistance = (a: string, b: string) => (Date.parse(`${b}Z`) - Date.parse(`${a}Z`)) / minute;
  it("keeps every distance on the wall, whatever the clocks do meanwhile", () => {
    fc.assert(
      fc.property(anyWall, anyWall, (price, newOpening) => {
        const { settings } = sourceFor({ settings: { prices: [{ id: "p", from: price, minor: 9_900 }] } });
        const copy = onNewDates(settings, newOpening, "Europe/Lisbon");
        if (settings.clock.kind !== "fixed" || copy.clock.kind !== "fixed") throw new Error("dates stay dates");
        expect(copy.clock.opens).toBe(newOpening);
        for (const [old, fresh] of [
          [settings.clock.closes, copy.clock.closes],
          [settings.clock.runUp, copy.clock.runUp],
          [settings.prices[0]!.from, copy.prices[0]!.from],
        ] as const)
          expect(wallDistance(newOpening, fresh)).toBe(wallDistance(settings.clock.opens, old));
      }),
    );
  });
  it("closes at midnight though a change of the clocks lies between", () => {
    const copy = onNewDates(sourceFor().settings, "2027-03-24T18:00", "Europe/Lisbon");
    const plan = planOf({ ...sourceFor(), settings: copy });
    expect(plan.clock.kind === "fixed" && wallTimeOf(plan.clock.window.closes, "Europe/Lisbon")).toBe("2027-03-31T00:00");
    expect(plan.clock.kind === "fixed" && plan.clock.window.closes.toISOString()).toBe("2027-03-30T23:00:00.000Z");
  });
  it("sends each email at its hour, whatever the clocks do between it and its bell", () => {
    // Six days before an opening of 20 November at 18:00: 14 November, 18:00. The clocks of Lisbon go forward on 28 March 2027.
    const email = (minutes: number) => ({
      id: `l${minutes}`,
      hangsOn: "opening" as const,
      minutes,
      time: null,
      to: "list" as const,
      subject: "x",
      text: "y",
    });
    const source = sourceFor({ settings: { emails: [email(-6 * 1440), email(-90), email(6 * 1440)] } });
    const at = (opening: string) => {
      const settings = onNewDates(source.settings, opening, source.zone);
      return bells(planOf({ ...source, settings }))
        .filter(({ kind }) => kind === "email")
        .map((bell) => wallTimeOf(bell.at, source.zone));
    };
    expect(at("2026-11-20T18:00")).toEqual(["2026-11-14T18:00", "2026-11-20T16:30", "2026-11-26T18:00"]);
    expect(at("2027-03-31T18:00")).toEqual(["2027-03-25T18:00", "2027-03-31T16:30", "2027-04-06T18:00"]);
    expect(at("2027-03-26T18:00")).toEqual(["2027-03-20T18:00", "2027-03-26T16:30", "2027-04-01T18:00"]);
    // Back again it is what it was.
    const there = onNewDates(source.settings, "2027-03-31T18:00", source.zone);
    expect(onNewDates(there, "2026-11-20T18:00", source.zone)).toEqual(source.settings);
  });
  it("of a clock for each person has no dates to move", () => {
    const { settings } = sourceFor({ clock: personalClock });
    expect(onNewDates(settings, "2027-01-01T10:00", "Europe/Lisbon")).toEqual(settings);
  });
});

describe("a launch with dates turned into an always-on one", () => {
  const { settings, remarks } = turnPersonal(sourceFor({ settings: { prices: [{ id: "p", from: "2026-11-24T00:00", minor: 9_900 }] } }).settings);
  it("gives each person as long as the doors were open, to the same time of day", () => {
    expect(settings.clock).toEqual({
      kind: "personal",
      trigger: { on: "opt_in", page: null },
      length: { kind: "until", minutes: 6 * 1440, time: "00:00" },
      rearm: null,
    });
    expect(settings.stops).toHaveLength(1);
  });
  it("says what it leaves out", () => {
    expect(remarks).toEqual([{ code: "run_up_dropped" }, { code: "prices_dropped", n: 1 }, { code: "opening_emails_dropped", n: 3 }]);
    expect(settings.emails.map(({ id }) => id)).toEqual(["doors-open", "last-day", "last-hour"]);
    expect(settingFaults({ ...sourceFor(), settings })).toEqual({});
  });
});

describe("settings", () => {
  const errors = (change: Partial<LaunchSettings>) => faultSentences(settingFaults(sourceFor({ settings: change })));
  it("are refused at the field that does not fit", () => {
    const page = {
      covers: { mode: "only" as const, pages: ["sales"], folders: [] },
      before: { to: "itself" as const },
      during: { to: "itself" as const },
    };
    expect(Object.keys(errors({ gates: [{ id: "g", ...page, after: { to: "page", page: "lost" } }] }))).toEqual(["gates.0.after"]);
    expect(errors({ gates: [{ id: "g", ...page, after: { to: "page", page: "thanks" } }] })["gates.0.after"]).toContain("asks for an order");
    expect(Object.keys(errors({ stops: [{ id: "s", on: "page", page: "lost", handTo: null }] }))).toEqual(["stops.0.page"]);
    expect(Object.keys(errors({ rising: { every: 5, stepMinor: 100, capMinor: 100 } }))).toEqual(["rising.capMinor"]);
    expect(
      Object.keys(errors({ clock: { kind: "fixed", runUp: "2026-11-21T00:00", opens: "2026-11-20T18:00", closes: "2026-11-20T10:00" } })),
    ).toEqual(["clock.closes", "clock.runUp"]);
    expect(Object.keys(settingFaults(sourceFor({ zone: "Mars/Olympus" })))).toEqual(["zone"]);
    const stage = { look: "firm" as const, words: "Soon", minutes: 60 };
    expect(
      Object.keys(
        errors({
          stages: [
            { id: "a", ...stage },
            { id: "b", ...stage },
          ],
        }),
      ),
    ).toEqual(["stages.1.minutes"]);
  });
  it("of a clock without dates have no dated prices", () => {
    const dated = sourceFor({ clock: personalClock, settings: { prices: [{ id: "p", from: "2026-11-24T00:00", minor: 9_900 }] } });
    expect(Object.keys(settingFaults(dated))).toEqual(["prices"]);
    expect(planFor({ clock: personalClock }).prices).toEqual([]);
  });
});

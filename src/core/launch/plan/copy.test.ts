import { describe, expect, it } from "vitest";
import { fixedClock, personalClock, sourceFor, weeklyClock } from "../../../../tests/support/plans";
import { onNewDates, turnPersonal, type ClockSettings, type EpisodeSetting, type LaunchSettings, type UnlockSetting } from "..";

const live = { starts: "2026-11-22T19:00", lengthMinutes: 60, earlyMinutes: 15, url: "https://meet.example/x", replay: "none" as const };
const episode = (id: string, unlock: UnlockSetting, session: EpisodeSetting["live"] = null): EpisodeSetting => ({
  id,
  page: `episodes/${id}`,
  unlock,
  live: session,
});
const onBell = (bell: "run_up" | "opening" | "closing", minutes: number): UnlockSetting => ({ on: "bell", bell, minutes });
const turned = (settings: Partial<LaunchSettings> = {}, clock: ClockSettings = fixedClock) => turnPersonal(sourceFor({ clock, settings }).settings);
const lengthOf = (clock: ClockSettings) => {
  const made = turned({}, clock).settings.clock;
  return made.kind === "personal" ? made.length : undefined;
};
const open = (opens: string, closes: string): ClockSettings => ({ kind: "fixed", runUp: opens, opens, closes });

describe("an always-on launch made of one with dates", () => {
  it("gives each person the days that the doors were open, to the hour at which they closed; less than a day to the minute", () => {
    expect(turned().settings.clock).toEqual({
      kind: "personal",
      trigger: { on: "opt_in", page: null },
      length: { kind: "until", minutes: 6 * 1440, time: "00:00" },
      rearm: null,
    });
    expect(lengthOf(open("2026-11-20T18:00", "2026-11-21T18:00"))).toEqual({ kind: "until", minutes: 1440, time: "18:00" });
    expect(lengthOf(open("2026-11-20T18:00", "2026-11-21T17:59"))).toEqual({ kind: "exact", minutes: 1439 });
    expect(lengthOf(open("2026-11-20T18:00", "2026-11-20T21:30"))).toEqual({ kind: "exact", minutes: 210 });
    expect(lengthOf(weeklyClock)).toEqual({ kind: "until", minutes: 3 * 1440, time: "10:00" });
    expect(lengthOf({ ...weeklyClock, lengthMinutes: 90 } as ClockSettings)).toEqual({ kind: "exact", minutes: 90 });
    expect(lengthOf({ ...weeklyClock, lengthMinutes: 2 * 1440 + 95 } as ClockSettings)).toEqual({ kind: "until", minutes: 2 * 1440, time: "11:35" });
  });
  it("that was always on stays as it is, and loses nothing", () => {
    const { settings } = sourceFor({ clock: personalClock });
    expect(turnPersonal(settings)).toEqual({ settings, remarks: [] });
  });
  it("names what it leaves out, with how many there were, and nothing else", () => {
    const short = sourceFor({ shape: "short" }).settings;
    expect(turnPersonal(short).remarks).toEqual([{ code: "run_up_dropped" }]);
    expect(turned({ emails: [] }, weeklyClock).remarks).toEqual([]);
    const price = (id: string) => ({ id, from: "2026-11-24T00:00", minor: 9_900 });
    const day = { id: "f", from: "2026-11-22T00:00", to: "2026-11-23T00:00", rateBp: 5_000 };
    const { settings, remarks } = turned({
      prices: [price("a"), price("b")],
      featured: [day],
      episodes: [episode("1", onBell("opening", 0), live), episode("2", onBell("opening", 0))],
    });
    expect(remarks).toEqual([
      { code: "run_up_dropped" },
      { code: "prices_dropped", n: 2 },
      { code: "featured_dropped", n: 1 },
      { code: "live_dropped", n: 1 },
      { code: "opening_emails_dropped", n: 3 },
    ]);
    expect([settings.prices, settings.featured, settings.episodes.map((one) => one.live)]).toEqual([[], [], [null, null]]);
  });
  it("keeps the emails that somebody can get whose clock starts at the opening, and what stops it", () => {
    const email = (id: string, hangsOn: "opening" | "closing", minutes: number) => ({
      id,
      hangsOn,
      minutes,
      time: null,
      to: "list" as const,
      subject: id,
      text: id,
    });
    const all = [
      email("before", "opening", -1),
      email("at", "opening", 0),
      email("later", "opening", 60),
      email("last", "closing", -60),
      email("over", "closing", 0),
    ];
    const { settings, remarks } = turned({ emails: all });
    expect(settings.emails.map(({ id }) => id)).toEqual(["at", "later", "last", "over"]);
    expect(remarks).toContainEqual({ code: "opening_emails_dropped", n: 1 });
    expect(settings.stops).toEqual([{ id: "bought", on: "purchase", product: null, handTo: null }]);
    const own = [{ id: "own", on: "page" as const, page: "sales", handTo: null }];
    expect(turned({ stops: own }).settings.stops).toEqual(own);
  });
  it("has no price that rises with the hours of doors that are everybody's; one that rises with sales stays", () => {
    const rising = { every: 60, stepMinor: 100, capMinor: 19_900 };
    expect(turned({ rising: { ...rising, by: "time" } }).settings.rising).toBeNull();
    expect(turned({ rising: { ...rising, by: "sales" } }).settings.rising).toEqual({ ...rising, by: "sales" });
    expect(turned({ rising }).settings.rising).toEqual(rising);
  });
  it("unlocks its run in the same steps after each opt-in, counted from the first", () => {
    const day = 1440;
    // The run-up begins nine days before the opening: a day after it is eight days before.
    const { settings } = turned({
      episodes: [
        episode("1", onBell("run_up", day)),
        episode("2", onBell("opening", -4 * day)),
        episode("3", onBell("opening", 0)),
        episode("4", onBell("closing", -day)),
        episode("5", { on: "start" }),
      ],
    });
    const after = (days: number) => ({ on: "opt_in", days, time: null });
    expect(settings.episodes.map(({ unlock }) => unlock)).toEqual([after(0), after(4), after(8), onBell("closing", -day), { on: "start" }]);
    const weekly = turned({ episodes: [episode("1", onBell("opening", 2 * day)), episode("2", onBell("opening", 5 * day))] }, weeklyClock);
    expect(weekly.settings.episodes.map(({ unlock }) => unlock)).toEqual([after(0), after(3)]);
    const far = turned({ episodes: [episode("1", onBell("opening", 0)), episode("2", onBell("opening", 400 * day))] });
    expect(far.settings.episodes[1]!.unlock).toEqual(after(366));
  });
});

describe("a launch on new dates", () => {
  it("takes featured days, live sessions and unlocking episodes along, at their hours on the wall", () => {
    const { settings } = sourceFor({
      settings: {
        featured: [{ id: "f", from: "2026-11-22T00:00", to: "2026-11-23T12:00", rateBp: 5_000 }],
        episodes: [episode("1", onBell("run_up", 1440), live), episode("2", { on: "start" }), episode("3", onBell("closing", -2 * 1440))],
      },
    });
    // Lisbon's clocks go forward on 28 March 2027, between the opening of the copy and its close.
    const copy = onNewDates(settings, "2027-03-24T18:00", "Europe/Lisbon");
    expect(copy.featured).toEqual([{ id: "f", from: "2027-03-26T00:00", to: "2027-03-27T12:00", rateBp: 5_000 }]);
    expect(copy.episodes.map((one) => one.live?.starts)).toEqual(["2027-03-26T19:00", undefined, undefined]);
    expect(copy.episodes.map(({ unlock }) => unlock)).toEqual([onBell("run_up", 1440), { on: "start" }, onBell("closing", -2 * 1440)]);
    const across = onNewDates(settings, "2027-03-22T18:00", "Europe/Lisbon");
    expect(across.episodes[2]!.unlock).toEqual(onBell("closing", -2 * 1440 + 60));
  });
  it("that repeats begins on the new day, and what hangs on each opening stays as far from it as it was", () => {
    const { settings } = sourceFor({ clock: weeklyClock, settings: { episodes: [episode("1", onBell("opening", -2 * 1440))] } });
    const copy = onNewDates(settings, "2027-03-29T11:30", "Europe/Lisbon");
    expect(copy.clock).toEqual({ ...weeklyClock, first: "2027-03-29T11:30" });
    expect(copy.emails).toEqual(settings.emails);
    expect(copy.episodes).toEqual(settings.episodes);
  });
});

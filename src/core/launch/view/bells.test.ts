import { describe, expect, it } from "vitest";
import { after, changeSummary, day, minute, personalClock, planFor, sourceFor, weeklyClock } from "../../../../tests/support/plans";
import {
  bells,
  moveBell,
  phaseWords,
  planOf,
  type EpisodeSetting,
  type LaunchPlan,
  type LaunchSettings,
  type LaunchSource,
  type UnlockSetting,
  type Viewer,
} from "..";
import { lengthWords, nearMoment } from "../../words";

const opens = new Date("2026-11-20T18:00:00Z");
const closes = new Date("2026-11-27T00:00:00Z");
const ring = (plan: LaunchPlan, who?: Viewer, range?: { from: Date; to: Date }) =>
  bells(plan, who, range).map(({ key, at }) => [key.split("@")[0], (at.getTime() - opens.getTime()) / minute]);
const keys = (...of: Parameters<typeof ring>) => ring(...of).map(([key]) => String(key));
const of = (settings: Partial<LaunchSettings>) => planFor({ settings: { emails: [], countdowns: [], stages: [], ...settings } });
const length = 6 * 1440 + 360;
const live = { starts: "2026-11-22T19:00", lengthMinutes: 60, earlyMinutes: 15, url: "https://meet.example/x", replay: "none" as const };
const episode = (unlock: UnlockSetting, session: EpisodeSetting["live"] = null): EpisodeSetting => ({
  id: "e",
  page: "episodes/1",
  unlock,
  live: session,
});

describe("a length of time in words", () => {
  it("leaves its empty parts out, and counts each in one or many", () => {
    const said = [0, 1, 2, 60, 61, 120, 1440, 1500, 2 * 1440, 2 * 1440 + 125].map(lengthWords);
    expect(said).toEqual([
      "0 minutes",
      "1 minute",
      "2 minutes",
      "1 hour",
      "1 hour 1 minute",
      "2 hours",
      "1 day",
      "1 day 1 hour",
      "2 days",
      "2 days 2 hours 5 minutes",
    ]);
  });
  it("of a moment names its day while that is within six days", () => {
    const zone = "Europe/Lisbon";
    expect(nearMoment(after(opens, 6 * day - 1), opens, zone)).toBe("Thursday 17:59");
    expect(nearMoment(after(opens, 6 * day), opens, zone)).toBe("Thu 26 Nov, 18:00");
    expect(nearMoment(opens, opens, zone)).toBe("Friday 18:00");
  });
  it("of doors counts their days, for everyone or for a person whose clock has begun", () => {
    expect(phaseWords(planFor({ clock: weeklyClock }), new Date("2026-11-06T10:00:00Z"))).toBe("Doors closed until they open again");
    const own = planFor({ clock: personalClock });
    expect(phaseWords(own, opens, { starts: [opens] })).toBe("Their doors are open, day 1 of 3");
    expect(phaseWords(own, opens, { starts: [after(opens, 1)] })).toBe("Always on, a clock for each person");
    expect(phaseWords(own, opens, { starts: [opens, after(opens, 9 * day)] })).toBe("Their doors are open, day 1 of 3");
    expect(phaseWords(own, opens, {})).toBe("Always on, a clock for each person");
  });
});

describe("the bells of a launch", () => {
  const core = ["run_up", "opening", "closing", "grace_end"];
  it("are those of its window, and of what hangs on it within the window", () => {
    expect(ring(of({}))).toEqual([
      ["run_up", -9 * 1440],
      ["opening", 0],
      ["closing", length],
      ["grace_end", length + 10],
    ]);
    const stage = (id: string, minutes: number) => ({ id, minutes, look: "firm" as const, words: id });
    // A look that would begin with the doors, or before them, is no change of its own.
    expect(keys(of({ stages: [stage("a", length - 1), stage("b", length), stage("c", length + 1), stage("d", 1)] }))).toEqual([
      "run_up",
      "opening",
      "stage:a",
      "stage:d",
      "closing",
      "grace_end",
    ]);
  });
  it("tell when a countdown appears and goes, to the bells that it counts to", () => {
    const look = {
      id: "c",
      form: "card" as const,
      covers: { mode: "only" as const, pages: ["sales"], folders: [] },
      fromMinutes: 120,
      untilMinutes: 5,
    };
    const shown = (change: object) =>
      ring(of({ countdowns: [{ ...look, to: ["opening", "closing"], ...change }] })).filter(([key]) => !core.includes(String(key)));
    expect(shown({})).toEqual([
      ["look_on:c:opening", -120],
      ["look_off:c:opening", -5],
      ["look_on:c:closing", length - 120],
      ["look_off:c:closing", length - 5],
    ]);
    expect(shown({ to: ["closing"] })).toEqual([
      ["look_on:c:closing", length - 120],
      ["look_off:c:closing", length - 5],
    ]);
    expect(shown({ fromMinutes: null, untilMinutes: 0 })).toEqual([]);
    // To the closing it is there from the opening on: no change then, nor before.
    expect(shown({ to: ["closing"], fromMinutes: length })).toEqual([["look_off:c:closing", length - 5]]);
    expect(shown({ to: ["closing"], fromMinutes: length + 9, untilMinutes: length })).toEqual([]);
    const own = planFor({ clock: personalClock, settings: { emails: [], stages: [], countdowns: [{ ...look, to: ["opening", "closing"] }] } });
    expect(keys(own, { starts: [opens] }).filter((key) => key.startsWith("look"))).toEqual(["look_on:c:closing", "look_off:c:closing"]);
  });
  it("are those of partners' days, of prices, and of a person whose clock stops", () => {
    const featured = [{ id: "f", from: "2026-11-22T18:00", to: "2026-11-23T18:00", rateBp: 5_000 }];
    const all = bells(of({ featured, prices: [{ id: "p", from: "2026-11-21T18:00", minor: 9_900 }] }), { stop: { at: after(opens, minute) } });
    expect(all.map(({ key, label }) => [key, label]).filter(([key]) => !core.includes(key!))).toEqual([
      ["stop", "Their clock stops"],
      ["price:p", "Price changes"],
      ["featured_on:f", "Partners earn 50 %"],
      ["featured_off:f", "Partners’ 50 % ends"],
    ]);
    expect(bells(of({}), { stop: { at: opens, handedTo: "primer" } }).find(({ kind }) => kind === "stop")!.label).toBe("Handed to another launch");
  });
  it("are those of the run, wherever an episode hangs", () => {
    const unlocks = (unlock: UnlockSetting, who?: Viewer) => ring(of({ episodes: [episode(unlock)] }), who).filter(([key]) => key === "episode:e");
    expect(unlocks({ on: "bell", bell: "run_up", minutes: 60 })).toEqual([["episode:e", -9 * 1440 + 60]]);
    expect(unlocks({ on: "bell", bell: "opening", minutes: -60 })).toEqual([["episode:e", -60]]);
    expect(unlocks({ on: "bell", bell: "closing", minutes: -60 })).toEqual([["episode:e", length - 60]]);
    expect(unlocks({ on: "opt_in", days: 2, time: null }, { subscribedAt: opens })).toEqual([["episode:e", 2 * 1440]]);
    expect([unlocks({ on: "opt_in", days: 2, time: null }), unlocks({ on: "start" })]).toEqual([[], []]);
    const session = (change: object) =>
      keys(of({ episodes: [episode({ on: "start" }, { ...live, ...change })] })).filter((key) => key.startsWith("live"));
    expect(session({})).toEqual(["live_join:e", "live:e", "live_end:e"]);
    expect(session({ earlyMinutes: 0 })).toEqual(["live:e", "live_end:e"]);
  });
  it("within a range are those from its beginning to its end, both included", () => {
    const within = (from: number, to: number) => keys(of({}), {}, { from: after(opens, from), to: after(closes, to) });
    expect(within(0, 0)).toEqual(["opening", "closing"]);
    expect(within(1, -1)).toEqual([]);
    expect(within(-1, 10 * minute)).toEqual(["opening", "closing", "grace_end"]);
    const weekly = planFor({ clock: weeklyClock, settings: { emails: [], countdowns: [], stages: [] } });
    expect(keys(weekly, {}, { from: opens, to: after(opens, 14 * day) }).filter((key) => key === "opening")).toHaveLength(2);
    expect(keys(weekly).filter((key) => key === "opening")).toHaveLength(53);
  });
});

describe("a bell that is moved", () => {
  const moved = (source: LaunchSource, key: string, minutes: number, who: Viewer = {}) => {
    const bell = bells(planOf(source), who).find((one) => one.name === key)!;
    return moveBell(source, bell, after(bell.at, minutes * minute));
  };
  const look = { id: "c", form: "card" as const, covers: { mode: "only" as const, pages: ["sales"], folders: [] }, to: ["closing" as const] };
  const two = (change: object) => [
    { ...look, fromMinutes: 120, untilMinutes: 30, ...change },
    { ...look, id: "d", fromMinutes: 90, untilMinutes: 20 },
  ];
  it("moves what it stands for, and nothing beside it", () => {
    const featured = [
      { id: "f", from: "2026-11-22T18:00", to: "2026-11-23T18:00", rateBp: 5_000 },
      { id: "g", from: "2026-11-24T18:00", to: "2026-11-25T18:00", rateBp: 4_000 },
    ];
    const prices = [
      { id: "p", from: "2026-11-21T18:00", minor: 9_900 },
      { id: "q", from: "2026-11-23T18:00", minor: 12_900 },
    ];
    const other = { ...episode({ on: "bell", bell: "opening", minutes: 0 }), id: "x", page: "episodes/2" };
    const source = sourceFor({
      settings: { featured, prices, countdowns: two({}), episodes: [episode({ on: "bell", bell: "opening", minutes: -60 }, live), other] },
    });
    const { settings } = source;
    expect(moved(source, "price:p", 90)).toEqual({ ...settings, prices: [{ ...prices[0]!, from: "2026-11-21T19:30" }, prices[1]] });
    expect(moved(source, "featured_on:f", -60)).toEqual({ ...settings, featured: [{ ...featured[0]!, from: "2026-11-22T17:00" }, featured[1]] });
    expect(moved(source, "featured_off:f", 60)).toEqual({ ...settings, featured: [{ ...featured[0]!, to: "2026-11-23T19:00" }, featured[1]] });
    expect(moved(source, "look_on:c:closing", 15)).toEqual({ ...settings, countdowns: two({ fromMinutes: 105 }) });
    expect(moved(source, "look_off:c:closing", -15)).toEqual({ ...settings, countdowns: two({ untilMinutes: 45 }) });
    const run = (change: Partial<EpisodeSetting>) => ({ ...settings, episodes: [{ ...settings.episodes[0]!, ...change }, other] });
    expect(moved(source, "episode:e", 30)).toEqual(run({ unlock: { on: "bell", bell: "opening", minutes: -30 } }));
    expect(moved(source, "live:e", 30)).toEqual(run({ live: { ...live, starts: "2026-11-22T19:30" } }));
    expect(moved(source, "live_join:e", -10)).toEqual(run({ live: { ...live, earlyMinutes: 25 } }));
    expect(moved(source, "live_join:e", 40)).toEqual(run({ live: { ...live, earlyMinutes: 0 } }));
    expect(moved(source, "live_end:e", 30)).toEqual(run({ live: { ...live, lengthMinutes: 90 } }));
    expect(moved(source, "live_end:e", -59)).toEqual(run({ live: { ...live, lengthMinutes: 5 } }));
    expect(moved(source, "run_up", 60)).toMatchObject({ clock: { runUp: "2026-11-11T19:00", opens: "2026-11-20T18:00" } });
    expect(moved(source, "grace_end", 60)).toBeUndefined();
  });
  it("of a clock that repeats, or is each person's, moves the rule for all", () => {
    const weekly = sourceFor({ clock: weeklyClock });
    expect(moved(weekly, "opening", 90)!.clock).toEqual({ ...weeklyClock, first: "2026-11-02T11:30" });
    expect(moved(weekly, "closing", 60)!.clock).toEqual({ ...weeklyClock, lengthMinutes: 3 * 1440 + 60 });
    expect(moved(weekly, "grace_end", 60)).toBeUndefined();
    const own = sourceFor({ clock: personalClock });
    const who = { starts: [opens] };
    expect(moved(own, "closing", -60, who)!.clock).toEqual({ ...personalClock, length: { kind: "exact", minutes: 3 * 1440 - 60 } });
    expect(moved(own, "closing", -9 * 1440, who)!.clock).toMatchObject({ length: { minutes: 0 } });
    expect(moved(own, "opening", 60, who)).toBeUndefined();
  });
});

describe("what a change does to the people of now", () => {
  const now = new Date("2026-11-23T12:00:00Z");
  const audience = (watching: number, persons: Viewer[] = []) => ({ watching, persons, buyers: 9 });
  const source = (change: Parameters<typeof sourceFor>[0] = {}) => sourceFor(change);
  const closing = (wall: string) => ({ ...source().settings, clock: { ...source().settings.clock, closes: wall } as LaunchSettings["clock"] });
  it("is counted for those alone whose doors it moves", () => {
    const later = changeSummary(source(), closing("2026-11-28T00:00"), audience(3), now);
    expect([later.countdowns, later.reopened, later.shut]).toEqual([[{ minutes: 1440, people: 3 }], 0, 0]);
    // To the very minute of now, or before, it shuts at once.
    expect(changeSummary(source(), closing("2026-11-23T12:00"), audience(3), now).shut).toBe(3);
    expect(changeSummary(source(), closing("2026-11-23T12:01"), audience(3), now).shut).toBe(0);
    // After the close it opens again.
    const over = new Date("2026-11-27T00:00:00Z");
    const reopened = changeSummary(source(), closing("2026-11-28T00:00"), audience(3), over);
    expect([reopened.reopened, reopened.warnings]).toEqual([3, [{ code: "closing_later", people: 3 }]]);
    const both = changeSummary(source(), closing("2026-11-26T00:00"), audience(3), over);
    expect([both.countdowns, both.warnings]).toEqual([[], []]);
    expect(changeSummary(source(), closing("2026-11-28T00:00"), audience(0), now).countdowns).toEqual([]);
  });
  it("of clocks of their own lists the larger group first, and says nothing of a start", () => {
    const own = source({ clock: { ...personalClock, length: { kind: "until", minutes: 1440, time: "12:00" } } });
    const longer = { ...own.settings, clock: personalClock };
    const starts = (hours: number): Viewer => ({ starts: [after(now, -hours * 60 * minute)] });
    // Until noon a day later at least: those who began at ten have 26 hours, those at noon a day.
    const { countdowns, warnings, moved } = changeSummary(own, longer, audience(40, [starts(2), starts(0), starts(0), {}]), now);
    expect(countdowns).toEqual([
      { minutes: 2 * 1440, people: 2 },
      { minutes: 3 * 1440 - 26 * 60, people: 1 },
    ]);
    expect(warnings).toEqual([{ code: "closing_later", people: 3 }]);
    expect(moved.map(({ key }) => key)).toContain("closing#1");
  });
  it("names bells that come, go or move, in their order", () => {
    const few = source({ settings: { emails: [], stages: [], countdowns: [], prices: [{ id: "old", from: "2026-11-25T00:00", minor: 19_900 }] } });
    const fresh = { ...few.settings, prices: [{ id: "new", from: "2026-11-24T00:00", minor: 19_900 }], graceMinutes: 30 };
    expect(changeSummary(few, fresh, audience(0), now).moved.map(({ key, from, to }) => [key, from !== undefined, to !== undefined])).toEqual([
      ["price:new#1", false, true],
      ["price:old#1", true, false],
      ["grace_end#1", true, true],
    ]);
  });
  it("warns of an opening that people wait for, of more seats, and of a price below what buyers paid", () => {
    const before = after(opens, -day);
    const opening = (wall: string) => ({ ...source().settings, clock: { ...source().settings.clock, opens: wall } as LaunchSettings["clock"] });
    const codes = (...args: Parameters<typeof changeSummary>) => changeSummary(...args).warnings.map(({ code }) => code);
    expect(codes(source(), opening("2026-11-21T18:00"), audience(1), before)).toEqual(["opening_moved"]);
    expect(codes(source(), opening("2026-11-21T18:00"), audience(0), before)).toEqual([]);
    const seats = (from: number | null, to: number | null) =>
      codes(source({ settings: { seats: from } }), source({ settings: { seats: to } }).settings, audience(1), before);
    expect([seats(5, 6), seats(5, null), seats(5, 5), seats(5, 4), seats(null, 5)]).toEqual([["more_seats"], ["more_seats"], [], [], []]);
    const cheaper = source({ settings: { prices: [{ id: "p", from: "2026-11-24T00:00", minor: 9_900 }] } }).settings;
    expect(codes(source(), cheaper, { ...audience(0), buyers: 1 }, before)).toEqual(["price_falls"]);
    expect(codes(source(), cheaper, { ...audience(0), buyers: 0 }, before)).toEqual([]);
  });
});

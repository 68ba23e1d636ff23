import { describe, expect, it } from "vitest";
import { faultSentences } from "../../words";
import { fixedClock, personalClock, sourceFor, weeklyClock } from "../../../../tests/support/plans";
import { settingFaults, type ClockSettings, type Coverage, type EpisodeSetting, type GateAnswerSetting, type LaunchSettings } from "..";

const errors = (settings: Partial<LaunchSettings>, clock: ClockSettings = fixedClock) =>
  faultSentences(settingFaults(sourceFor({ clock, settings })));
const fields = (...of: Parameters<typeof errors>) => Object.keys(errors(...of));
const dates = (runUp: string, opens: string, closes: string): ClockSettings => ({ kind: "fixed", runUp, opens, closes });
const weekly = (change: Partial<Extract<ClockSettings, { kind: "recurring" }>>) => ({ ...weeklyClock, ...change }) as ClockSettings;
const noTime = "2026-11-31T18:00";

describe("dates of a launch", () => {
  it("must exist, and follow one another", () => {
    expect(errors({})).toEqual({});
    const [runUp, opens, closes] = ["2026-11-11T18:00", "2026-11-20T18:00", "2026-11-27T00:00"] as const;
    expect(fields({}, dates(noTime, opens, closes))).toEqual(["clock.runUp"]);
    expect(fields({}, dates(runUp, noTime, closes))).toEqual(["clock.opens"]);
    expect(fields({}, dates(runUp, opens, noTime))).toEqual(["clock.closes"]);
    expect(fields({}, dates(runUp, opens, opens))).toEqual(["clock.closes"]);
    expect(fields({}, dates(runUp, opens, "2026-11-20T18:01"))).toEqual([]);
    // The run-up may begin with the doors: then there is none.
    expect(fields({}, dates(opens, opens, closes))).toEqual([]);
    expect(fields({}, dates("2026-11-20T18:01", opens, closes))).toEqual(["clock.runUp"]);
  });
  it("of a rule are refused by name, at the field", () => {
    const said = (rule: string, first = "2026-11-02T10:00") => errors({}, weekly({ rule, first }));
    expect(said("every Monday")["clock.rule"]).toContain("no");
    expect(said("FREQ=WEEKLY;BYEASTER=1")["clock.rule"]).toBe("“BYEASTER” is no part of a recurrence rule that is understood here.");
    expect(said("FREQ=WEEKLY;FREQ=DAILY")["clock.rule"]).toBe("FREQ stands in the rule twice.");
    expect(said("FREQ=MONTHLY;BYMONTHDAY=32")["clock.rule"]).toBe("BYMONTHDAY=32 is not possible (RFC 5545).");
    expect(said("BYDAY=MO")["clock.rule"]).toBe("The rule must say how often: FREQ=WEEKLY, for example.");
    expect(said("FREQ=WEEKLY;COUNT=2;UNTIL=20270101T000000Z")["clock.rule"]).toMatch(/^(COUNT and UNTIL|UNTIL and COUNT) do not go together/);
    expect(said("FREQ=WEEKLY;BYSETPOS=1")["clock.rule"]).toBe("BYSETPOS needs another BY… beside it (RFC 5545).");
    expect(said("FREQ=HOURLY")["clock.rule"]).toBe("Doors open once a day at most: weekly, monthly or daily rules.");
    expect(said("FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30")["clock.rule"]).toBe("No day fits this rule.");
    expect(said("FREQ=WEEKLY", "1206-11-02T10:00")["clock.first"]).toMatch(/^The first opening must lie between the years \d{4} and \d{4}\.$/);
    expect(fields({}, weekly({ first: noTime }))).toEqual(["clock.first"]);
    const length = (lengthMinutes: number) => errors({}, weekly({ lengthMinutes }));
    // Once a year a week is an hour short: the clocks go forward.
    expect(length(7 * 1440 - 60)).toEqual({});
    expect(length(7 * 1440 - 59)).toEqual({
      "clock.lengthMinutes": "The doors would open again after 6 days 23 hours, before they have closed. Make it shorter than that.",
    });
  });
  it("of one's own must last, and start at a page that there is", () => {
    const own = (change: Partial<typeof personalClock>) => fields({}, { ...personalClock, ...change });
    expect(own({ length: { kind: "until", minutes: 0, time: "20:00" } })).toEqual(["clock.length.minutes"]);
    expect(own({ length: { kind: "until", minutes: 1, time: "20:00" } })).toEqual([]);
    expect(own({ trigger: { on: "page", page: "lost" } })).toEqual(["clock.trigger.page"]);
    expect(own({ trigger: { on: "page", page: "sales" } })).toEqual([]);
    expect(own({ trigger: { on: "opt_in", page: null } })).toEqual([]);
    expect(own({ trigger: { on: "webhook" } })).toEqual([]);
  });
});

describe("what hangs on a launch's time", () => {
  const covers = (pages: string[], folders: string[] = [], mode: Coverage["mode"] = "only"): Coverage => ({ mode, pages, folders });
  const gate = (change: { covers?: Coverage; before?: GateAnswerSetting; during?: GateAnswerSetting; after?: GateAnswerSetting }) => ({
    gates: [
      {
        id: "g",
        covers: covers(["sales"]),
        before: { to: "itself" } as const,
        during: { to: "itself" } as const,
        after: { to: "itself" } as const,
        ...change,
      },
    ],
  });
  const look = (change: object) => ({
    countdowns: [
      { id: "c", form: "card" as const, covers: covers(["sales"]), to: ["closing" as const], fromMinutes: 60, untilMinutes: 0, ...change },
    ],
  });
  it("covers pages that there are, and one at least where it names them", () => {
    expect([fields(gate({})), fields(look({}))]).toEqual([[], []]);
    expect(errors(gate({ covers: covers(["lost"]) }))).toEqual({ "gates.0.covers": "This launch has no page “lost” any more. Choose another." });
    expect(fields(look({ covers: covers(["lost"]) }))).toEqual(["countdowns.0.covers"]);
    expect(errors(gate({ covers: covers([]) }))).toEqual({ "gates.0.covers": "Choose at least one page or folder." });
    expect(fields(gate({ covers: covers([], ["episodes"]) }))).toEqual([]);
    expect(fields(gate({ covers: covers([], [], "but") }))).toEqual([]);
    for (const phase of ["before", "during", "after"] as const) {
      expect(fields(gate({ [phase]: { to: "page", page: "lost" } }))).toEqual([`gates.0.${phase}`]);
      expect(fields(gate({ [phase]: { to: "page", page: "closed" } }))).toEqual([]);
      expect(fields(gate({ [phase]: { to: "page", page: "offer" } }))).toEqual([`gates.0.${phase}`]);
      expect(fields(gate({ [phase]: { to: "address", url: "https://shop.example" } }))).toEqual([]);
    }
  });
  it("appears before it goes", () => {
    expect(fields(look({ fromMinutes: 60, untilMinutes: 60 }))).toEqual(["countdowns.0.fromMinutes"]);
    expect(fields(look({ fromMinutes: 60, untilMinutes: 59 }))).toEqual([]);
    expect(fields(look({ fromMinutes: 10, untilMinutes: 59 }))).toEqual(["countdowns.0.fromMinutes"]);
    expect(fields(look({ fromMinutes: null, untilMinutes: 59 }))).toEqual([]);
  });
  it("is a run of pages of content, each once, each with an address of its own", () => {
    const episode = (change: Partial<EpisodeSetting> = {}, id = "1"): EpisodeSetting => ({
      id,
      page: `episodes/${id}`,
      unlock: { on: "start" },
      live: null,
      ...change,
    });
    const run = (episodes: EpisodeSetting[], clock?: ClockSettings) => errors({ episodes }, clock);
    expect(run([episode(), episode({}, "2")])).toEqual({});
    expect(run([episode({ page: "lost" })])).toEqual({ "episodes.0.page": "This launch has no page “lost” any more. Choose another." });
    expect(run([episode({ page: "sales" })])).toEqual({ "episodes.0.page": "Only a page of content can be an episode." });
    expect(run([episode({ page: "optin" })])["episodes.0.page"]).toContain("own address is never locked");
    expect(run([episode(), episode({ page: "episodes/1" }, "2")])).toEqual({ "episodes.1.page": "This page is in the run already." });
    const onRunUp = episode({ unlock: { on: "bell", bell: "run_up", minutes: 0 } });
    expect([run([onRunUp]), Object.keys(run([onRunUp], weeklyClock)), Object.keys(run([onRunUp], personalClock))]).toEqual([
      {},
      ["episodes.0.unlock"],
      ["episodes.0.unlock"],
    ]);
    expect(run([episode({ unlock: { on: "bell", bell: "opening", minutes: 0 } })], weeklyClock)).toEqual({});
    const live = (starts: string) =>
      episode({ live: { starts, lengthMinutes: 60, earlyMinutes: 15, url: "https://meet.example/x", replay: "none" } });
    expect([run([live("2026-11-22T19:00")]), Object.keys(run([live(noTime)]))]).toEqual([{}, ["episodes.0.live.starts"]]);
  });
  it("is stages at moments of their own, and stops at pages that there are", () => {
    const stage = (id: string, minutes: number) => ({ id, minutes, look: "firm" as const, words: "Soon" });
    expect(fields({ stages: [stage("a", 60), stage("b", 61)] })).toEqual([]);
    expect(fields({ stages: [stage("a", 60), stage("b", 61), stage("c", 60)] })).toEqual(["stages.2.minutes"]);
    expect(fields({ stops: [{ id: "s", on: "page", page: "closed", handTo: null }] })).toEqual([]);
    expect(fields({ stops: [{ id: "s", on: "purchase", product: null, handTo: null }] })).toEqual([]);
  });
});

describe("prices and partners' days", () => {
  it("have dates that exist, and end after they begin", () => {
    expect(fields({ prices: [{ id: "p", from: "2026-11-22T10:00", minor: 9_900 }] })).toEqual([]);
    expect(fields({ prices: [{ id: "p", from: noTime, minor: 9_900 }] })).toEqual(["prices.0.from"]);
    const featured = (from: string, to: string) => fields({ featured: [{ id: "f", from, to, rateBp: 5_000 }] });
    expect(featured("2026-11-22T10:00", "2026-11-22T10:01")).toEqual([]);
    expect(featured("2026-11-22T10:00", "2026-11-22T10:00")).toEqual(["featured.0.to"]);
    expect(featured("2026-11-22T10:00", "2026-11-21T10:00")).toEqual(["featured.0.to"]);
    expect(featured(noTime, "2026-11-22T10:00")).toEqual(["featured.0.from"]);
    expect(featured("2026-11-22T10:00", noTime)).toEqual(["featured.0.to"]);
    expect(featured(noTime, noTime)).toEqual(["featured.0.from", "featured.0.to"]);
  });
  it("rise as often as buyers can follow, up to a cap that is not below the start", () => {
    const rising = (change: object) => errors({ rising: { by: "time", every: 60, stepMinor: 100, capMinor: 90_000, ...change } });
    // The doors are open for 9,000 minutes: every six of them makes 1,499 rises, and the opening is none.
    expect(rising({ every: 6, stepMinor: 1, capMinor: 9_999_999 })).toEqual({});
    const often = rising({ every: 5, stepMinor: 1, capMinor: 9_999_999 });
    expect(often["rising.every"]).toMatch(/^The price would rise 1,(799|800) times; 1,500 at most\./);
    expect(Object.keys(rising({ capMinor: 14_899 }))).toEqual(["rising.capMinor"]);
    expect(rising({ capMinor: 14_900 })).toEqual({});
    const own = errors({ rising: { by: "time", every: 60, stepMinor: 100, capMinor: 90_000 } }, personalClock);
    expect(Object.keys(own)).toEqual(["rising.by"]);
    expect(errors({ rising: { by: "sales", every: 1, stepMinor: 1, capMinor: 9_999_999 } }, personalClock)).toEqual({});
  });
});

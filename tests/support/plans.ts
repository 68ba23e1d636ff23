import fc from "fast-check";
import {
  ChangeSummariser,
  plannedPages,
  type Audience,
  initialSettings,
  usualSubjects,
  planOf,
  type ClockSettings,
  type LaunchPlan,
  type LaunchSettings,
  type LaunchShape,
  type LaunchSource,
  type Viewer,
  type UnlockSetting,
} from "../../src/core/launch";

export const minute = 60_000;
export const day = 1440 * minute;
export const after = (at: Date, ms: number) => new Date(at.getTime() + ms);

export const fixedClock: ClockSettings = { kind: "fixed", runUp: "2026-11-11T18:00", opens: "2026-11-20T18:00", closes: "2026-11-27T00:00" };
export const weeklyClock: ClockSettings = { kind: "recurring", first: "2026-11-02T10:00", rule: "FREQ=WEEKLY;BYDAY=MO", lengthMinutes: 3 * 1440 };
export const personalClock: Extract<ClockSettings, { kind: "personal" }> = {
  kind: "personal",
  trigger: { on: "opt_in", page: null },
  length: { kind: "exact", minutes: 3 * 1440 },
  rearm: null,
};

interface Change {
  clock?: ClockSettings;
  shape?: LaunchShape;
  settings?: Partial<LaunchSettings>;
  zone?: string;
  unpublished?: string[];
}

/** A launch laid out as the desk does, with every page published unless named. */
export const sourceFor = ({
  clock = fixedClock,
  shape = "full",
  settings = {},
  zone = "Europe/Lisbon",
  unpublished = [],
}: Change = {}): LaunchSource => ({
  slug: "gansey",
  name: "The Gansey Workshop",
  zone,
  shape,
  settings: { ...initialSettings(shape, clock), episodes: [], ...settings },
  pages: plannedPages(shape).map(({ key, kind, slug }) => ({ key, kind, slug, title: key, published: !unpublished.includes(key) })),
  subjects: usualSubjects(initialSettings(shape, clock).emails, "The Gansey Workshop"),
  price: { minor: 14_900, currency: "EUR" },
});
export const planFor = (change: Change = {}): LaunchPlan => planOf(sourceFor(change));

const pad = (n: number) => String(n).padStart(2, "0");
/** Any wall time of two years with changes of the clocks in both hemispheres. */
export const anyWall = fc
  .record({
    month: fc.integer({ min: 0, max: 23 }),
    day: fc.integer({ min: 1, max: 28 }),
    hour: fc.integer({ min: 0, max: 23 }),
    minute: fc.integer({ min: 0, max: 59 }),
  })
  .map((w) => `${2026 + Math.floor(w.month / 12)}-${pad((w.month % 12) + 1)}-${pad(w.day)}T${pad(w.hour)}:${pad(w.minute)}`);

const addMinutes = (wall: string, minutes: number) => new Date(Date.parse(`${wall}Z`) + minutes * minute).toISOString().slice(0, 16);

const anyFixed = fc
  .record({ opens: anyWall, runUp: fc.integer({ min: 180, max: 20_000 }), open: fc.integer({ min: 180, max: 20_000 }) })
  .map(({ opens, runUp, open }): ClockSettings => ({ kind: "fixed", runUp: addMinutes(opens, -runUp), opens, closes: addMinutes(opens, open) }));
const anyRecurring = fc
  .record({ first: anyWall, every: fc.integer({ min: 1, max: 3 }), times: fc.integer({ min: 1, max: 6 }), open: fc.integer({ min: 30, max: 9_000 }) })
  .map(({ first, every, times, open }): ClockSettings => ({
    kind: "recurring",
    first,
    rule: `FREQ=WEEKLY;INTERVAL=${every};COUNT=${times}`,
    lengthMinutes: open,
  }));
const anyLength = fc.oneof(
  fc.integer({ min: 1, max: 9_000 }).map((minutes) => ({ kind: "exact" as const, minutes })),
  fc.record({ minutes: fc.integer({ min: 0, max: 9_000 }), hour: fc.integer({ min: 0, max: 23 }) }).map(({ minutes, hour }) => ({
    kind: "until" as const,
    minutes,
    time: `${pad(hour)}:30`,
  })),
);
/** Any clock of one's own, and how it may start again. */
export const anyPersonal = fc
  .record({
    length: anyLength,
    rearm: fc.option(fc.record({ restMinutes: fc.integer({ min: 0, max: 9_000 }), times: fc.integer({ min: 1, max: 3 }) })),
  })
  .map(({ length, rearm }) => ({ ...personalClock, length, rearm: rearm ?? null }));

/** Any way in which an episode opens, and perhaps a live session. */
const anyUnlock = fc.record({
  unlock: fc.oneof<fc.Arbitrary<UnlockSetting>[]>(
    fc.constant({ on: "start" }),
    fc.record({
      on: fc.constant("bell" as const),
      bell: fc.constantFrom("run_up", "opening", "closing"),
      minutes: fc.integer({ min: -9_000, max: 9_000 }),
    }),
    fc.record({ on: fc.constant("opt_in" as const), days: fc.integer({ min: 0, max: 9 }), time: fc.constantFrom(null, "02:30", "18:00") }),
  ),
  live: fc.option(anyWall, { nil: undefined }),
});

const zones = ["Europe/Lisbon", "America/New_York", "Australia/Lord_Howe", "Asia/Kolkata"];

/** Any launch: every kind of clock, with gates, countdowns, stages and dated prices of any sort. */
export const anyPlan: fc.Arbitrary<LaunchPlan> = fc
  .record({
    clock: fc.oneof(anyFixed, anyRecurring, anyPersonal),
    shape: fc.constantFrom<LaunchShape>("full", "short", "list"),
    zone: fc.constantFrom(...zones),
    grace: fc.integer({ min: 0, max: 90 }),
    stages: fc.uniqueArray(fc.integer({ min: 1, max: 4_000 }), { maxLength: 3 }),
    looks: fc.array(
      fc.record({
        from: fc.option(fc.integer({ min: 60, max: 4_000 })),
        until: fc.integer({ min: 0, max: 50 }),
        mode: fc.constantFrom<"only" | "but">("only", "but"),
      }),
      { maxLength: 2 },
    ),
    folder: fc.boolean(),
    episodes: fc.array(anyUnlock, { maxLength: 3 }),
    priced: fc.boolean(),
  })
  .map(({ clock, shape, zone, grace, stages, looks, folder, episodes, priced }) =>
    planFor({
      clock,
      shape,
      zone,
      settings: {
        graceMinutes: grace,
        stages: stages.map((minutes) => ({ id: `s${minutes}`, minutes, look: "firm", words: `${minutes} left` })),
        countdowns: looks.map(({ from, until, mode }, index) => ({
          id: `c${index}`,
          form: index ? "card" : "bar_top",
          covers: { mode, pages: ["optin"], folders: [] },
          to: ["opening", "closing"],
          fromMinutes: from,
          untilMinutes: until,
        })),
        ...(folder && shape === "full"
          ? {
              gates: [
                {
                  id: "g",
                  covers: { mode: "but", pages: ["closed"], folders: ["episodes"] },
                  before: { to: "page", page: "optin" },
                  during: { to: "itself" },
                  after: { to: "address", url: "https://elsewhere.example/" },
                },
              ],
            }
          : {}),
        episodes:
          shape === "full"
            ? episodes.map(({ unlock, live }, index) => ({
                id: `e${index}`,
                page: `episodes/${index + 1}`,
                unlock: unlock.on === "bell" && unlock.bell === "run_up" && clock.kind !== "fixed" ? { on: "start" } : unlock,
                live:
                  live === undefined ? null : { starts: live, lengthMinutes: 60, earlyMinutes: 15, url: "https://meet.example/", replay: "closing" },
              }))
            : [],
        prices: priced && clock.kind === "fixed" ? [{ id: "p", from: addMinutes(clock.opens, 60), minor: 19_900 }] : [],
      },
    }),
  );

/** Any person about a launch: what they did, in milliseconds from an instant. */
export const anyPerson = (around: Date): fc.Arbitrary<Viewer> => {
  const moment = fc.integer({ min: -9 * day, max: 20 * day }).map((ms) => after(around, ms));
  return fc
    .record({
      starts: fc.array(moment, { maxLength: 3 }),
      stop: fc.option(moment, { nil: undefined }),
      begun: fc.option(moment, { nil: undefined }),
      ordered: fc.option(moment, { nil: undefined }),
      joined: fc.option(moment, { nil: undefined }),
    })
    .map(({ starts, stop, begun, ordered, joined }) => ({
      starts: starts.sort((a, b) => a.getTime() - b.getTime()),
      ...(stop ? { stop: { at: stop } } : {}),
      checkoutBegunAt: begun,
      orderedAt: ordered,
      subscribedAt: joined,
    }));
};

/** What a change of settings does to people who look at the clock of everyone, those with one of their own, and buyers. */
export const changeSummary = (
  source: LaunchSource,
  settings: LaunchSettings,
  { persons = [], ...audience }: Audience & { persons?: Viewer[] },
  now: Date,
) => {
  const change = new ChangeSummariser(source, settings, now);
  persons.forEach((who) => change.count(who));
  return change.summary(audience);
};

import { Temporal as Reference } from "@js-temporal/polyfill";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { faultSentences } from "../../words";
import { after, anyPerson, anyPlan, day, minute, personalClock, planFor, sourceFor } from "../../../../tests/support/plans";
import { nextStep } from "../../pages";
import {
  bellOf,
  bells,
  moveBell,
  onNewDates,
  planOf,
  settingFaults,
  turnPersonal,
  unlocksAt,
  view,
  type EpisodeSetting,
  type LaunchPlan,
  type Viewer,
} from "..";

const opens = new Date("2026-11-20T18:00:00Z");
const closes = new Date("2026-11-27T00:00:00Z");
const episode = (n: number, unlock: EpisodeSetting["unlock"], live: EpisodeSetting["live"] = null): EpisodeSetting => ({
  id: `e${n}`,
  page: `episodes/${n}`,
  unlock,
  live,
});
const run = [
  episode(1, { on: "start" }),
  episode(2, { on: "bell", bell: "opening", minutes: -2 * 1440 }),
  episode(3, { on: "opt_in", days: 3, time: "18:00" }),
];
const plan = planFor({ settings: { episodes: run } });
const at = (plan_: LaunchPlan, who: Viewer, now: Date) => view(plan_, who, now);
const answers = (who: Viewer, now: Date, slug: string) => {
  const { answer } = at(plan, who, now).addresses.find((address) => address.slug === slug)!;
  return "page" in answer ? answer.page.key : answer.redirect;
};

describe("an episode", () => {
  it("stays locked until its bell, and its address shows the newest open one meanwhile", () => {
    const bell = after(opens, -2 * day);
    expect(answers({}, after(bell, -1), "episodes/2")).toBe("episodes/1");
    expect(answers({}, bell, "episodes/2")).toBe("episodes/2");
    const locked = at(plan, {}, after(bell, -1)).addresses.find(({ slug }) => slug === "episodes/2")!.locked;
    expect(locked).toMatchObject({ number: 2, open: false, opensAt: bell });
  });
  it("by days after an opt-in opens for that person alone, and says to others what it waits for", () => {
    const joined = new Date("2026-11-12T20:15:00Z");
    const [, , third] = at(plan, { subscribedAt: joined }, after(joined, day)).episodes;
    expect(third!.opensAt).toEqual(new Date("2026-11-15T18:00:00Z"));
    expect(at(plan, {}, after(joined, day)).episodes[2]).toMatchObject({ open: false, awaits: "opt_in" });
    expect(answers({ subscribedAt: joined }, new Date("2026-11-15T18:00:00Z"), "episodes/3")).toBe("episodes/3");
    expect(answers({}, new Date("2026-11-15T18:00:00Z"), "episodes/3")).toBe("episodes/1");
  });
  it("of the day of the opt-in at an hour that is over is open at once", () => {
    const joined = new Date("2026-11-12T20:15:00Z");
    expect(unlocksAt(plan, { on: "opt_in", days: 0, time: "12:00" }, { subscribedAt: joined }, undefined)).toEqual({ at: joined });
  });
  it("is not stood in for by one that comes later in the run", () => {
    const later = planFor({ settings: { episodes: [episode(1, { on: "bell", bell: "opening", minutes: 0 }), episode(2, { on: "start" })] } });
    const { answer } = view(later, {}, after(opens, -1)).addresses.find(({ slug }) => slug === "episodes/1")!;
    expect("page" in answer && answer.page.key).toBe("optin");
  });
  it("falls back to the opt-in where none is open, and never to itself", () => {
    const shut = planFor({ settings: { episodes: [episode(1, { on: "bell", bell: "opening", minutes: 0 })] } });
    const { answer } = view(shut, {}, after(opens, -1)).addresses.find(({ slug }) => slug === "episodes/1")!;
    expect("page" in answer && answer.page.key).toBe("optin");
  });
  it("of a clock for each person opens with that clock", () => {
    const own = planFor({ clock: personalClock, settings: { gates: [], episodes: [episode(1, { on: "bell", bell: "opening", minutes: 1440 })] } });
    const start = new Date("2026-11-12T09:00:00Z");
    expect(view(own, {}, start).episodes[0]).toMatchObject({ open: false, awaits: "clock" });
    expect(view(own, { starts: [start] }, after(start, day)).episodes[0]!.open).toBe(true);
  });
  // Outside: the days of a calendar in a zone as a second implementation of Temporal counts them (the standard's own reference polyfill).
  it("counts days after the opt-in as the calendar does, across changes of the clocks", () => {
    fc.assert(
      fc.property(
        fc.date({ min: new Date("2026-01-01"), max: new Date("2027-12-31"), noInvalidDate: true }),
        fc.integer({ min: 0, max: 200 }),
        fc.constantFrom("Europe/Lisbon", "America/New_York", "Australia/Lord_Howe"),
        (joined, days, zone) => {
          const there = planFor({ zone });
          const found = unlocksAt(there, { on: "opt_in", days, time: null }, { subscribedAt: joined }, undefined).at!;
          const reference = Reference.Instant.fromEpochMilliseconds(joined.getTime()).toZonedDateTimeISO(zone).add({ days });
          expect(found.getTime()).toBe(reference.epochMilliseconds);
        },
      ),
    );
  });
});

describe("a run of episodes", () => {
  it("is open or locked as its bells say, for any launch, person and instant", () => {
    fc.assert(
      fc.property(anyPlan, anyPerson(opens), fc.integer({ min: -20 * 1440, max: 20 * 1440 }), (any, who, minutes) => {
        const now = after(opens, minutes * minute);
        const seen = view(any, who, now);
        for (const one of seen.episodes) {
          // Whoever comes a moment before the instant that was promised finds it locked, and at the instant it is open.
          const found = (at: Date) => view(any, who, at).episodes[one.number - 1]!;
          if (!one.opensAt || found(one.opensAt).opensAt?.getTime() !== one.opensAt.getTime()) continue;
          expect(found(one.opensAt).open).toBe(true);
          expect(found(after(one.opensAt, -1)).open).toBe(false);
        }
        // What is locked is sent to nobody: no address answers with it, but for the launch's own that is never locked.
        for (const address of seen.addresses)
          if ("page" in address.answer && address.slug !== "") {
            const { page } = address.answer;
            expect(seen.episodes.find((one) => one.page === page)?.open ?? true).toBe(true);
          }
      }),
    );
  });
  it("leads from one to the next and from the last to the sales page", () => {
    const { slug, pages, settings } = sourceFor({ settings: { episodes: [run[2]!, run[0]!] } });
    const source = { slug, pages, settings };
    expect(nextStep(source, "optin")).toBe("/l/gansey/episodes/3");
    expect(nextStep(source, "episodes/3")).toBe("/l/gansey/episodes/1");
    expect(nextStep(source, "episodes/1")).toBe("/l/gansey/join");
  });
  it("moves with the bell it hangs on, and by itself", () => {
    const source = sourceFor({ settings: { episodes: run } });
    const [bell] = bells(planOf(source)).filter(({ key }) => key === "episode:e2");
    const moved = moveBell(source, bell!, after(bell!.at, 90 * minute))!;
    expect(moved.episodes[1]!.unlock).toEqual({ on: "bell", bell: "opening", minutes: -2 * 1440 + 90 });
    const later = moveBell(source, bellOf({ kind: "opening" }, opens, ""), after(opens, day))!;
    const again = bells(planOf({ ...source, settings: later })).find(({ key }) => key === "episode:e2")!;
    expect(again.at).toEqual(after(bell!.at, day));
  });
  it("turned into an always-on one keeps its steps as days after the opt-in", () => {
    const { settings } = turnPersonal(
      sourceFor({
        settings: {
          episodes: [2, 4, 6].map((n) => ({ ...run[1]!, id: `e${n}`, unlock: { on: "bell", bell: "opening", minutes: -1440 * (8 - n) } })),
        },
      }).settings,
    );
    expect(settings.episodes.map(({ unlock }) => unlock)).toEqual([0, 2, 4].map((days) => ({ on: "opt_in", days, time: null })));
  });
  it("with one on the run-up keeps its order when it is turned into an always-on one", () => {
    const mixed = [episode(1, { on: "bell", bell: "run_up", minutes: 0 }), episode(2, { on: "bell", bell: "opening", minutes: -2 * 1440 })];
    const { settings } = turnPersonal(sourceFor({ settings: { episodes: mixed } }).settings);
    expect(settings.episodes.map(({ unlock }) => unlock.on === "opt_in" && unlock.days)).toEqual([0, 7]);
  });
  it("takes only pages of content, each once, and not the launch's own address", () => {
    const wrong = (episodes: EpisodeSetting[]) => faultSentences(settingFaults(sourceFor({ settings: { episodes } })));
    expect(wrong([{ ...run[0]!, page: "sales" }])["episodes.0.page"]).toMatch(/content/);
    expect(wrong([run[0]!, { ...run[1]!, page: "episodes/1" }])["episodes.1.page"]).toMatch(/already/);
    expect(wrong([{ ...run[0]!, page: "gone" }])["episodes.0.page"]).toMatch(/no page/);
    expect(wrong(run)).toEqual({});
  });
});

describe("a live session", () => {
  const live = { starts: "2026-11-18T19:00", lengthMinutes: 60, earlyMinutes: 15, url: "https://meet.example/x", replay: "closing" as const };
  const starts = new Date("2026-11-18T19:00:00Z");
  const session = (now: Date, change: Partial<typeof live> = {}) =>
    view(planFor({ settings: { episodes: [episode(1, { on: "start" }, { ...live, ...change })] } }), {}, now).episodes[0]!.live!;

  it("can be joined from its bell to its end, and is watched afterwards until another bell", () => {
    expect(session(after(starts, -15 * minute - 1)).phase).toBe("before");
    expect(session(after(starts, -15 * minute)).phase).toBe("joining");
    expect(session(after(starts, 60 * minute - 1))).toMatchObject({ phase: "joining", replay: false });
    expect(session(after(starts, 60 * minute))).toMatchObject({ phase: "over", replay: true, replayUntil: closes });
    expect(session(after(closes, -1)).replay).toBe(true);
    expect(session(closes).replay).toBe(false);
  });
  it("has no recording where none is promised", () => {
    expect(session(after(starts, day), { replay: "none" as never }).replay).toBe(false);
  });
  it("rings when it can be joined, begins and ends, and keeps its distance in a copy of the launch", () => {
    const source = sourceFor({ settings: { episodes: [episode(1, { on: "start" }, live)] } });
    expect(
      bells(planOf(source))
        .filter(({ kind }) => kind === "live")
        .map(({ key }) => key),
    ).toEqual(["live_join:e1", "live:e1", "live_end:e1"]);
    expect(onNewDates(source.settings, "2027-03-26T18:00", "Europe/Lisbon").episodes[0]!.live!.starts).toBe("2027-03-24T19:00");
    const longer = moveBell(source, bellOf({ kind: "live", id: "e1", is: "end" }, after(starts, 60 * minute), ""), after(starts, 90 * minute))!;
    expect(longer.episodes[0]!.live!.lengthMinutes).toBe(90);
  });
});

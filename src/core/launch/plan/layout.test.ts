import { describe, expect, it } from "vitest";
import { fixedClock, personalClock, weeklyClock } from "../../../../tests/support/plans";
import {
  initialSettings,
  launchSettings,
  plannedPages,
  sellingSettings,
  usualEmailWords,
  usualSubjects,
  type ClockSettings,
  type LaunchShape,
} from "..";

const day = 1440;
const of = initialSettings;
const emailsOf = (shape: LaunchShape, clock: ClockSettings) => of(shape, clock).emails.map(({ id, hangsOn, minutes }) => [id, hangsOn, minutes]);
const last = [
  ["last-day", "closing", -day],
  ["last-hour", "closing", -60],
];
const open = ["doors-open", "opening", 0];
const clocks = [fixedClock, weeklyClock, personalClock];

describe("what a new launch begins with", () => {
  it("is a set of pages by its shape, each at an address of its own", () => {
    expect(plannedPages("list")).toEqual([
      { key: "optin", kind: "optin", slug: "" },
      { key: "closed", kind: "closed", slug: "closed" },
    ]);
    expect(plannedPages("short").map(({ slug }) => slug)).toEqual(["", "waiting-list", "checkout", "offer", "thank-you", "closed"]);
    const full = plannedPages("full");
    expect(full.map(({ slug }) => slug)).toEqual(["", "episodes/1", "episodes/2", "episodes/3", "join", "checkout", "offer", "thank-you", "closed"]);
    expect(full.filter(({ kind }) => kind === "content").map(({ key, episode }) => [key, episode])).toEqual([
      ["episodes/1", 1],
      ["episodes/2", 2],
      ["episodes/3", 3],
    ]);
  });
  it("is emails at the bells that its clock has: none where nothing is sold, no opening where each person has their own", () => {
    for (const clock of clocks) expect(emailsOf("list", clock)).toEqual([]);
    expect(emailsOf("short", fixedClock)).toEqual([open, ...last]);
    expect(emailsOf("short", personalClock)).toEqual(last);
    expect(emailsOf("full", personalClock)).toEqual(last);
    expect(emailsOf("full", weeklyClock)).toEqual([open, ...last]);
    expect(emailsOf("full", fixedClock)).toEqual([
      ["episode-1", "opening", -6 * day],
      ["episode-2", "opening", -4 * day],
      ["episode-3", "opening", -2 * day],
      open,
      ...last,
    ]);
    const { emails } = of("full", fixedClock);
    expect(Object.values(usualSubjects(emails, "The Workshop"))).toEqual([
      "Episode 1 is ready",
      "Episode 2 is ready",
      "Episode 3 is ready",
      "The doors of The Workshop are open",
      "The Workshop closes in a day",
      "The Workshop: the last hour",
    ]);
    expect(usualEmailWords("episode-2", "The Workshop").text).toContain("Episode 2 before the doors of The Workshop open");
    expect(emails.map(({ to }) => to)).toEqual(["list", "list", "list", "list", "not_bought", "not_bought"]);
  });
  it("is a run of episodes two days apart before the doors, or a day apart after each start, and a gate around it", () => {
    const minutes = (clock: ClockSettings) =>
      of("full", clock).episodes.map(({ unlock }) => (unlock.on === "bell" ? [unlock.bell, unlock.minutes] : unlock));
    expect(minutes(fixedClock)).toEqual([
      ["opening", -6 * day],
      ["opening", -4 * day],
      ["opening", -2 * day],
    ]);
    expect(minutes(personalClock)).toEqual([
      ["opening", 0],
      ["opening", day],
      ["opening", 2 * day],
    ]);
    expect(of("full", fixedClock).episodes.map(({ id, page }) => [id, page])).toEqual([1, 2, 3].map((n) => [`episode-${n}`, `episodes/${n}`]));
    const gate = {
      id: "episodes",
      covers: { mode: "only", pages: [], folders: ["episodes"] },
      during: { to: "itself" },
      after: { to: "page", page: "closed" },
    };
    expect(of("full", fixedClock).gates).toEqual([{ ...gate, before: { to: "itself" } }]);
    expect(of("full", personalClock).gates).toEqual([{ ...gate, before: { to: "page", page: "optin" } }]);
    for (const shape of ["short", "list"] as const) expect([of(shape, fixedClock).gates, of(shape, fixedClock).episodes]).toEqual([[], []]);
  });
  it("is a countdown on the pages there are, and a purchase that stops a clock of one's own", () => {
    const covered = (shape: LaunchShape) => of(shape, fixedClock).countdowns.map(({ covers, to }) => [covers, to]);
    const both = ["opening", "closing"];
    expect(covered("list")).toEqual([[{ mode: "only", pages: ["optin"], folders: [] }, both]]);
    for (const shape of ["short", "full"] as const)
      expect(covered(shape)).toEqual([[{ mode: "only", pages: ["optin", "sales", "checkout"], folders: [] }, both]]);
    expect(of("short", personalClock).stops).toEqual([{ id: "bought", on: "purchase", product: null, handTo: null }]);
    for (const [shape, clock] of [
      ["short", fixedClock],
      ["full", weeklyClock],
      ["list", personalClock],
    ] as const)
      expect(of(shape, clock).stops).toEqual([]);
  });
  it("is complete: every setting fits, and no word is empty", () => {
    for (const shape of ["full", "short", "list"] as const)
      for (const clock of clocks) expect(launchSettings.parse(of(shape, clock))).toEqual(of(shape, clock));
  });
});

describe("a list that begins to sell", () => {
  it("gets the usual emails and stops beside its own, and its countdown stands on the new pages too", () => {
    const list = of("list", personalClock);
    const own = { id: "last-day", hangsOn: "closing" as const, minutes: -2 * day, time: null, to: "list" as const };
    const page = {
      id: "card",
      form: "card" as const,
      covers: { mode: "only" as const, pages: ["closed"], folders: [] },
      to: ["closing" as const],
      fromMinutes: null,
      untilMinutes: 0,
    };
    const everywhere = { ...page, id: "all", covers: { mode: "but" as const, pages: ["optin"], folders: [] } };
    const sells = sellingSettings({ ...list, emails: [own], countdowns: [...list.countdowns, page, everywhere] });
    expect(sells.emails).toEqual([own, expect.objectContaining({ id: "last-hour", minutes: -60 })]);
    expect(sells.countdowns.map(({ covers }) => covers)).toEqual([
      { mode: "only", pages: ["optin", "sales", "checkout"], folders: [] },
      page.covers,
      everywhere.covers,
    ]);
    expect(sells.stops).toEqual([{ id: "bought", on: "purchase", product: null, handTo: null }]);
    const stops = [{ id: "own", on: "page" as const, page: "closed", handTo: null }];
    expect(sellingSettings({ ...list, stops }).stops).toEqual(stops);
    expect(sells).toMatchObject({ clock: list.clock, graceMinutes: list.graceMinutes, gates: [], episodes: [] });
  });
});

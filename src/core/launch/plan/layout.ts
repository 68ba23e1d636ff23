import { Temporal } from "temporal-polyfill";
import { emailWords } from "../../words";
import type { LaunchPage, LaunchShape, PageKind } from "./launch";
import type { ClockSettings, Coverage, EpisodeSetting, LaunchSettings, EmailSetting } from "./settings";

/** A page that a new launch begins with. */
export type PlannedPage = Pick<LaunchPage, "key" | "kind" | "slug"> & { episode?: number };

const slugs: Record<LaunchShape, Partial<Record<PageKind, string>>> = {
  full: { optin: "", sales: "join", checkout: "checkout", offer: "offer", thanks: "thank-you", closed: "closed" },
  short: { sales: "", optin: "waiting-list", checkout: "checkout", offer: "offer", thanks: "thank-you", closed: "closed" },
  list: { optin: "", closed: "closed" },
};

/** Episodes of a full launch's run-up, as pages of its own below `episodes/`. */
export const runUpEpisodes = 3;

/** The pages that a launch of this shape begins with. */
export const plannedPages = (shape: LaunchShape): PlannedPage[] => {
  const pages: PlannedPage[] = Object.entries(slugs[shape]).map(([kind, slug]) => ({ key: kind, kind: kind as PageKind, slug }));
  if (shape !== "full") return pages;
  const episodes = Array.from({ length: runUpEpisodes }, (_, index): PlannedPage => {
    const slug = `episodes/${index + 1}`;
    return { key: slug, kind: "content", slug, episode: index + 1 };
  });
  return [pages[0]!, ...episodes, ...pages.slice(1)];
};

const only = (...pages: string[]): Coverage => ({ mode: "only", pages, folders: [] });
const day = 1440;

const emails = (shape: LaunchShape, kind: ClockSettings["kind"]): EmailSetting[] => {
  if (shape === "list") return [];
  const close: EmailSetting[] = [
    {
      id: "last-day",
      hangsOn: "closing",
      minutes: -day,
      time: null,
      to: "not_bought",
    },
    {
      id: "last-hour",
      hangsOn: "closing",
      minutes: -60,
      time: null,
      to: "not_bought",
    },
  ];
  if (kind === "personal") return close;
  const open: EmailSetting = {
    id: "doors-open",
    hangsOn: "opening",
    minutes: 0,
    time: null,
    to: "list",
  };
  if (shape !== "full" || kind === "recurring") return [open, ...close];
  const episodes = Array.from({ length: runUpEpisodes }, (_, index): EmailSetting => ({
    id: `episode-${index + 1}`,
    hangsOn: "opening",
    minutes: -day * 2 * (runUpEpisodes - index),
    time: null,
    to: "list",
  }));
  return [...episodes, open, ...close];
};

/** What the emails are called that a launch begins with, and what they say, by their ids. */
export const usualEmailWords = (id: string, launch: string): { subject: string; text: string } => {
  const { usual } = emailWords();
  const episode = /^episode-(\d+)$/.exec(id)?.[1];
  if (episode) return { subject: usual.episode.subject(episode), text: usual.episode.text(episode, launch) };
  const words = usual[id === "last-day" || id === "last-hour" ? id : "doors-open"];
  return { subject: words.subject(launch), text: words.text(launch) };
};
export const usualSubjects = (emails: readonly Pick<EmailSetting, "id">[], launch: string): Record<string, string> =>
  Object.fromEntries(emails.map(({ id }) => [id, usualEmailWords(id, launch).subject]));

/** Before doors with dates, two days apart; after the start of a person's own clock, a day apart. */
const episodes = (kind: ClockSettings["kind"]): EpisodeSetting[] =>
  Array.from({ length: runUpEpisodes }, (_, index) => ({
    id: `episode-${index + 1}`,
    page: `episodes/${index + 1}`,
    unlock: { on: "bell", bell: "opening", minutes: kind === "personal" ? index * day : -day * 2 * (runUpEpisodes - index) },
    live: null,
  }));

/** The time, gates, countdowns, stages and emails that a launch of this shape and clock begins with. All of it can be changed. */
export const initialSettings = (shape: LaunchShape, clock: ClockSettings): LaunchSettings => ({
  clock,
  graceMinutes: 10,
  // Episodes stay open while the doors are, and close with them.
  gates:
    shape === "full"
      ? [
          {
            id: "episodes",
            covers: { mode: "only", pages: [], folders: ["episodes"] },
            before: clock.kind === "personal" ? { to: "page", page: "optin" } : { to: "itself" },
            during: { to: "itself" },
            after: { to: "page", page: "closed" },
          },
        ]
      : [],
  countdowns:
    shape === "list"
      ? [{ id: "bar", form: "bar_top", covers: only("optin"), to: ["opening", "closing"], fromMinutes: null, untilMinutes: 0 }]
      : [{ id: "bar", form: "bar_top", covers: only("optin", "sales", "checkout"), to: ["opening", "closing"], fromMinutes: null, untilMinutes: 0 }],
  stages: [
    { id: "last-day", minutes: day, look: "firm", words: "Last day" },
    { id: "last-hour", minutes: 60, look: "loud", words: "Last hour" },
  ],
  emails: emails(shape, clock.kind),
  sender: null,
  sequences: [],
  stops: shape === "list" || clock.kind !== "personal" ? [] : [{ id: "bought", on: "purchase", product: null, handTo: null }],
  prices: [],
  rising: null,
  seats: null,
  featured: [],
  episodes: shape === "full" ? episodes(clock.kind) : [],
});

/**
 * The settings of a launch that collected addresses, once it sells: its countdown stands on the new pages too, emails of
 * the bells are proposed, and a purchase stops a person's own clock. What the vendor has set stays.
 */
export const sellingSettings = (settings: LaunchSettings): LaunchSettings => {
  const usual = initialSettings("short", settings.clock);
  return {
    ...settings,
    countdowns: settings.countdowns.map((countdown) =>
      countdown.covers.mode === "only" && countdown.covers.pages.includes("optin")
        ? { ...countdown, covers: { ...countdown.covers, pages: [...new Set([...countdown.covers.pages, "sales", "checkout"])] } }
        : countdown,
    ),
    emails: [...settings.emails, ...usual.emails.filter(({ id }) => !settings.emails.some((email) => email.id === id))],
    stops: settings.stops.length > 0 ? settings.stops : usual.stops,
  };
};

/** A wall time so many days earlier, in the same notation. */
export const daysBefore = (wall: string, days: number): string =>
  Temporal.PlainDateTime.from(wall).subtract({ days }).toString({ smallestUnit: "minute" });

import type { ClockSettings, Coverage, EpisodeSetting, LaunchSettings, LiveSetting, UnlockSetting } from "./settings";
import { resolveWallTime } from "../clock/wallTime";
import type { Window } from "../clock/window";

export const pageKinds = ["optin", "sales", "checkout", "offer", "thanks", "closed", "content"] as const;
/** `content` is a page of the vendor's own; a launch has any number of those, and at most one of each other kind. */
export type PageKind = (typeof pageKinds)[number];

/** `full` warms a list first; `short` goes straight to the sales page; `list` stops at the opt-in. */
export const launchShapes = ["full", "short", "list"] as const;
export type LaunchShape = (typeof launchShapes)[number];

export interface LaunchPage {
  /** Names the page within its launch: its kind, or for a content page its first address. */
  key: string;
  kind: PageKind;
  /** Address below the launch; the empty one is the launch's own address. */
  slug: string;
  title: string;
  published: boolean;
}

/** A launch as it is stored: plain data, the same on the server and in the browser. */
export interface LaunchSource {
  slug: string;
  name: string;
  zone: string;
  shape: LaunchShape;
  settings: LaunchSettings;
  pages: LaunchPage[];
  /** What the subjects of its emails are, by their ids. */
  subjects: Readonly<Record<string, string | undefined>>;
  /** Price of the main product in minor units, as the buyer sees it. */
  price: { minor: number; currency: string };
}

/** A clock with its instants resolved. */
export type PlanClock =
  | { kind: "fixed"; runUp: Date; window: Window }
  | (Extract<ClockSettings, { kind: "recurring" }> & { zone: string })
  | (Extract<ClockSettings, { kind: "personal" }> & { zone: string });

/** A stretch of time in which every partner earns at least a rate, in basis points. */
export interface Featured {
  id: string;
  from: Date;
  to: Date;
  rateBp: number;
}

/** An episode of the run; a live session with its instants. */
export interface PlanEpisode {
  id: string;
  page: LaunchPage;
  unlock: UnlockSetting;
  live?: { starts: Date; ends: Date; joinFrom: Date; url: string; replay: LiveSetting["replay"] };
}

/** What the clock needs to know of a launch, ready to be asked: wall times are instants, lists are in order. */
export interface LaunchPlan extends Omit<LaunchSource, "settings"> {
  settings: LaunchSettings;
  clock: PlanClock;
  /** Dated prices by their instants, in order. */
  prices: { id: string; from: Date; minor: number }[];
  /** Stretches in which partners earn more, by their instants, in order. */
  featured: Featured[];
  /** The run of episodes whose pages there are, in order, with the instants of live sessions. */
  episodes: PlanEpisode[];
  /** Urgency stages, the earliest first. */
  stages: LaunchSettings["stages"];
}

const instantOf = (wall: string, zone: string): Date => {
  const resolved = resolveWallTime(wall, zone);
  if ("instant" in resolved) return resolved.instant;
  throw new RangeError(`"${wall}" in ${zone} is no wall time (${resolved.code}); settings are checked before they are stored.`);
};

const resolveClock = (clock: ClockSettings, zone: string): PlanClock =>
  clock.kind === "fixed"
    ? {
        kind: "fixed",
        runUp: instantOf(clock.runUp, zone),
        window: { opens: instantOf(clock.opens, zone), closes: instantOf(clock.closes, zone) },
      }
    : { ...clock, zone };

const resolveEpisode = ({ id, page: key, unlock, live }: EpisodeSetting, { pages, zone }: LaunchSource): PlanEpisode[] => {
  const page = pages.find((other) => other.key === key);
  if (!page) return [];
  if (!live) return [{ id, page, unlock }];
  const starts = instantOf(live.starts, zone);
  const after = (minutes: number) => new Date(starts.getTime() + minutes * 60_000);
  const { url, replay } = live;
  return [{ id, page, unlock, live: { starts, ends: after(live.lengthMinutes), joinFrom: after(-live.earlyMinutes), url, replay } }];
};

/** The dated prices by their instants, and those that follow from a rise with time: `min(cap, price + steps × step)`, from the opening on. */
const pricesOf = ({ settings, zone, price }: LaunchSource): LaunchPlan["prices"] => {
  const dated = settings.prices
    .map(({ id, from, minor }) => ({ id, from: instantOf(from, zone), minor }))
    .sort((a, b) => a.from.getTime() - b.from.getTime());
  const { rising, clock } = settings;
  if (rising?.by !== "time" || clock.kind !== "fixed") return dated;
  const [opens, closes] = [instantOf(clock.opens, zone).getTime(), instantOf(clock.closes, zone).getTime()];
  const baseAt = (at: number) => dated.findLast(({ from }) => from.getTime() <= at)?.minor ?? price.minor;
  const risenAt = (at: number): number => {
    const steps = Math.max(0, Math.floor((Math.min(at, closes) - opens) / (rising.every * 60_000)));
    return Math.max(baseAt(at), Math.min(rising.capMinor, baseAt(at) + steps * rising.stepMinor));
  };
  const rises: LaunchPlan["prices"] = [];
  for (let n = 1, at = opens; ; n += 1) {
    at += rising.every * 60_000;
    if (at >= closes) break;
    if (risenAt(at) > risenAt(at - 1)) rises.push({ id: `rise-${n}`, from: new Date(at), minor: risenAt(at) });
  }
  const own = dated.filter(({ from }) => !rises.some((rise) => rise.from.getTime() === from.getTime()));
  return [...own.map((one) => ({ ...one, minor: risenAt(one.from.getTime()) })), ...rises].sort((a, b) => a.from.getTime() - b.from.getTime());
};

/** Makes a stored launch ready to be asked. Throws a RangeError for wall times or zones that are none. */
export const planOf = (source: LaunchSource): LaunchPlan => ({
  ...source,
  clock: resolveClock(source.settings.clock, source.zone),
  prices: pricesOf(source),
  featured: source.settings.featured
    .map(({ id, from, to, rateBp }) => ({ id, rateBp, from: instantOf(from, source.zone), to: instantOf(to, source.zone) }))
    .sort((a, b) => a.from.getTime() - b.from.getTime()),
  episodes: source.settings.episodes.flatMap((episode) => resolveEpisode(episode, source)),
  stages: [...source.settings.stages].sort((a, b) => b.minutes - a.minutes),
});

/** Whether something holds for a page. */
export const covers = ({ mode, pages, folders }: Coverage, page: Pick<LaunchPage, "key" | "slug">): boolean => {
  const named = pages.includes(page.key) || folders.some((folder) => page.slug.startsWith(`${folder}/`));
  return named === (mode === "only");
};

/** The subject of an email, or that it has none. */
export const subjectOf = ({ subjects }: Pick<LaunchSource, "subjects">, id: string): string => subjects[id] || "no subject yet";

export const pageOf = (plan: Pick<LaunchPlan, "pages">, key: string): LaunchPage | undefined => plan.pages.find((page) => page.key === key);

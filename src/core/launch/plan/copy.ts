import { Temporal } from "temporal-polyfill";
import type { EpisodeSetting, LaunchSettings } from "./settings";
import { wallTimeOf } from "../clock/wallTime";

const plain = (wall: string) => Temporal.PlainDateTime.from(wall);

const instantOf = (wall: string, zone: string): number => plain(wall).toZonedDateTime(zone).epochMilliseconds;

/**
 * Minutes from a bell on another date for what keeps its hour on the wall. Less than a day is a length of time and stays
 * as it is: three hours before the close are three hours before it.
 */
const minutesFrom = (minutes: number, bell: { was: string; becomes: string }, zone: string): number => {
  if (Math.abs(minutes) < 1440) return minutes;
  const was = wallTimeOf(new Date(instantOf(bell.was, zone) + minutes * 60_000), zone);
  const distance = plain(bell.was).until(plain(was), { largestUnit: "day" });
  const becomes = plain(bell.becomes).add(distance).toString({ smallestUnit: "minute" });
  return Math.round((instantOf(becomes, zone) - instantOf(bell.becomes, zone)) / 60_000);
};

/**
 * The settings of a launch on other dates: every wall time keeps its distance on the wall to the opening bell, so that
 * an email at 09:00 and a close at midnight stay at 09:00 and midnight on either side of a change of the clocks.
 */
export const onNewDates = (settings: LaunchSettings, newOpening: string, zone: string): LaunchSettings => {
  const { clock } = settings;
  if (clock.kind === "personal") return settings;
  const old = plain(clock.kind === "fixed" ? clock.opens : clock.first);
  // Days and minutes on the wall, not hours elapsed: those would bend at a change of the clocks.
  const distance = old.until(plain(newOpening), { largestUnit: "day" });
  const move = (wall: string) => plain(wall).add(distance).toString({ smallestUnit: "minute" });
  // A clock that repeats has no single bell: what hangs on each of them stays as far from it as it was.
  const from = (bell: "run_up" | "opening" | "closing", minutes: number): number => {
    if (clock.kind !== "fixed") return minutes;
    const was = { run_up: clock.runUp, opening: clock.opens, closing: clock.closes }[bell];
    return minutesFrom(minutes, { was, becomes: move(was) }, zone);
  };
  return {
    ...settings,
    clock:
      clock.kind === "fixed"
        ? { ...clock, runUp: move(clock.runUp), opens: move(clock.opens), closes: move(clock.closes) }
        : { ...clock, first: move(clock.first) },
    emails: settings.emails.map((email) => ({ ...email, minutes: email.time === null ? from(email.hangsOn, email.minutes) : email.minutes })),
    prices: settings.prices.map((price) => ({ ...price, from: move(price.from) })),
    featured: settings.featured.map((featured) => ({ ...featured, from: move(featured.from), to: move(featured.to) })),
    episodes: settings.episodes.map(({ live, unlock, ...rest }) => ({
      ...rest,
      unlock: unlock.on === "bell" ? { ...unlock, minutes: from(unlock.bell, unlock.minutes) } : unlock,
      live: live && { ...live, starts: move(live.starts) },
    })),
  };
};

/** The same run for people who come one by one: an episode's distance from the first becomes days after the opt-in. */
const afterOptIn = ({ episodes, clock }: LaunchSettings): EpisodeSetting[] => {
  // All on one measure: minutes from the opening bell.
  const runUp = clock.kind === "fixed" ? -plain(clock.runUp).until(plain(clock.opens), { largestUnit: "minute" }).minutes : 0;
  const minutes = episodes.map(({ unlock }) =>
    unlock.on === "bell" && unlock.bell !== "closing" ? unlock.minutes + (unlock.bell === "run_up" ? runUp : 0) : undefined,
  );
  const first = Math.min(...minutes.filter((one) => one !== undefined));
  return episodes.map(({ unlock, ...rest }, index): EpisodeSetting => {
    const own = minutes[index];
    return {
      ...rest,
      live: null,
      unlock: own === undefined ? unlock : { on: "opt_in", days: Math.min(366, Math.round((own - first) / 1440)), time: null },
    };
  });
};

/** What is lost or bent where a launch with dates becomes an always-on one. */
export type TurnRemark =
  | { code: "prices_dropped"; n: number }
  | { code: "featured_dropped"; n: number }
  | { code: "run_up_dropped" }
  | { code: "live_dropped"; n: number }
  | { code: "opening_emails_dropped"; n: number };

/**
 * The settings of a launch turned into an always-on one: each person has as long as the doors were open, from their
 * opt-in on; where the doors closed at a time of day after whole days, so do theirs.
 */
export const turnPersonal = (settings: LaunchSettings): { settings: LaunchSettings; remarks: TurnRemark[] } => {
  const { clock } = settings;
  if (clock.kind === "personal") return { settings, remarks: [] };
  const minutes =
    clock.kind === "fixed"
      ? plain(clock.opens)
          .until(plain(clock.closes), { largestUnit: "day" })
          .total({ unit: "minute", relativeTo: plain(clock.opens) })
      : clock.lengthMinutes;
  const closesAt = clock.kind === "fixed" ? clock.closes.slice(11) : plain(clock.first).add({ minutes }).toString().slice(11, 16);
  const wholeDays = Math.floor(minutes / 1440) * 1440;
  const early = settings.emails.filter((email) => email.hangsOn === "opening" && email.minutes < 0).length;
  const remarks: TurnRemark[] = [];
  if (clock.kind === "fixed") remarks.push({ code: "run_up_dropped" });
  if (settings.prices.length > 0) remarks.push({ code: "prices_dropped", n: settings.prices.length });
  if (settings.featured.length > 0) remarks.push({ code: "featured_dropped", n: settings.featured.length });
  const live = settings.episodes.filter((episode) => episode.live).length;
  if (live > 0) remarks.push({ code: "live_dropped", n: live });
  if (early > 0) remarks.push({ code: "opening_emails_dropped", n: early });
  return {
    settings: {
      ...settings,
      clock: {
        kind: "personal",
        trigger: { on: "opt_in", page: null },
        length: wholeDays > 0 ? { kind: "until", minutes: wholeDays, time: closesAt } : { kind: "exact", minutes },
        rearm: null,
      },
      prices: [],
      rising: settings.rising?.by === "time" ? null : settings.rising,
      featured: [],
      // What unlocked one by one before the doors does so after each person's opt-in, in the same steps.
      episodes: afterOptIn(settings),
      // Nobody is there before their own clock starts.
      emails: settings.emails.filter((email) => email.hangsOn === "closing" || email.minutes >= 0),
      stops: settings.stops.length > 0 ? settings.stops : [{ id: "bought", on: "purchase", product: null, handTo: null }],
    },
    remarks,
  };
};

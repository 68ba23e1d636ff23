import { bells, type Bell, type BellKind } from "../view/bells";
import { planOf, type LaunchPlan, type LaunchSource } from "./launch";
import { windowFor, type Viewer } from "../clock/viewer";
import type { EpisodeSetting, LaunchSettings } from "./settings";
import { wallTimeOf } from "../clock/wallTime";

const replace = <T extends { id: string }>(list: T[], id: string, change: (item: T) => T): T[] =>
  list.map((item) => (item.id === id ? change(item) : item));

/** Moves the windows of a clock: its opening, its closing or its run-up. Undefined where it has no such thing to move. */
const moveClock = ({ clock }: LaunchSettings, kind: BellKind, laterMinutes: number, wall: string): LaunchSettings["clock"] | undefined => {
  if (clock.kind === "fixed") {
    if (kind === "opening") return { ...clock, opens: wall };
    if (kind === "closing") return { ...clock, closes: wall };
    if (kind === "run_up") return { ...clock, runUp: wall };
  }
  if (clock.kind === "recurring") {
    if (kind === "closing") return { ...clock, lengthMinutes: clock.lengthMinutes + laterMinutes };
    // One opening stands for all of them: the time of day moves, the days stay as the rule says.
    if (kind === "opening") return { ...clock, first: `${clock.first.slice(0, 10)}T${wall.slice(11)}` };
  }
  if (clock.kind === "personal" && kind === "closing")
    return { ...clock, length: { ...clock.length, minutes: Math.max(0, clock.length.minutes + laterMinutes) } };
  return undefined;
};

/** Moves what a bell stands for to another instant. All that hangs on it moves along. Undefined where the bell cannot be moved by itself. */
export const moveBell = ({ settings, zone }: Pick<LaunchSource, "settings" | "zone">, bell: Bell, to: Date): LaunchSettings | undefined => {
  const later = Math.round((to.getTime() - bell.at.getTime()) / 60_000);
  const wall = wallTimeOf(to, zone);
  const { letters, episodes, stages, prices, featured, countdowns } = settings;
  switch (bell.kind) {
    case "letter":
      return { ...settings, letters: replace(letters, bell.id, (letter) => ({ ...letter, minutes: letter.minutes + later })) };
    case "episode": {
      const moved = (episode: EpisodeSetting): EpisodeSetting =>
        episode.unlock.on === "bell" ? { ...episode, unlock: { ...episode.unlock, minutes: episode.unlock.minutes + later } } : episode;
      return { ...settings, episodes: replace(episodes, bell.id, moved) };
    }
    case "live": {
      const moved = ({ live, ...rest }: EpisodeSetting): EpisodeSetting => {
        if (!live) return { ...rest, live };
        if (bell.is === "start") return { ...rest, live: { ...live, starts: wall } };
        if (bell.is === "join") return { ...rest, live: { ...live, earlyMinutes: Math.max(0, live.earlyMinutes - later) } };
        return { ...rest, live: { ...live, lengthMinutes: Math.max(5, live.lengthMinutes + later) } };
      };
      return { ...settings, episodes: replace(episodes, bell.id, moved) };
    }
    case "stage":
      return { ...settings, stages: replace(stages, bell.id, (stage) => ({ ...stage, minutes: stage.minutes - later })) };
    case "price":
      // What the counters rang cannot be moved.
      return "id" in bell ? { ...settings, prices: replace(prices, bell.id, (price) => ({ ...price, from: wall })) } : undefined;
    case "featured":
      return { ...settings, featured: replace(featured, bell.id, (one) => (bell.turns === "on" ? { ...one, from: wall } : { ...one, to: wall })) };
    case "look": {
      const { turns } = bell;
      return {
        ...settings,
        countdowns: replace(countdowns, bell.id, (look) =>
          turns === "on" ? { ...look, fromMinutes: (look.fromMinutes ?? 0) - later } : { ...look, untilMinutes: look.untilMinutes - later },
        ),
      };
    }
    default: {
      const clock = moveClock(settings, bell.kind, later, wall);
      return clock && { ...settings, clock };
    }
  }
};

export type ChangeWarning =
  | { code: "closing_earlier"; people: number }
  | { code: "closing_later"; people: number }
  | { code: "opening_moved"; people: number }
  | { code: "more_seats"; from: number; to: number | null }
  | { code: "price_falls"; fromMinor: number; toMinor: number; buyers: number };

/** What a change does, in numbers, before it is made. */
export interface ChangeSummary {
  /** Bells that ring at another time, appear or go. */
  moved: { key: string; label: string; from?: Date; to?: Date }[];
  /** How many people's countdown moves by how many minutes; above zero is later. */
  countdowns: { minutes: number; people: number }[];
  /** People whose doors the change opens again, or closes at once. */
  reopened: number;
  shut: number;
  warnings: ChangeWarning[];
}

/** Who is told what at present: people who look at a clock of everyone, or their own starts. */
export interface Audience {
  /** People on the list or who came, and have not bought. */
  watching: number;
  /** One entry per person with a personal clock. */
  persons: Viewer[];
  buyers: number;
}

const year = 366 * 86_400_000;

const movedBells = (before: LaunchPlan, after: LaunchPlan, now: Date): ChangeSummary["moved"] => {
  const sample: Viewer = before.clock.kind === "personal" || after.clock.kind === "personal" ? { starts: [now] } : {};
  const range = { from: new Date(now.getTime() - year), to: new Date(now.getTime() + year) };
  // Occurrences of a recurring clock are named by their number from now, not by the instant that moves.
  const named = (plan: LaunchPlan) => {
    const seen = new Map<string, number>();
    return new Map(
      bells(plan, sample, range).map((bell) => {
        const { name } = bell;
        const nth = (seen.get(name) ?? 0) + 1;
        seen.set(name, nth);
        return [`${name}#${nth}`, bell] as const;
      }),
    );
  };
  const [old, fresh] = [named(before), named(after)];
  const keys = [...new Set([...old.keys(), ...fresh.keys()])];
  return keys
    .map((key) => ({ key, label: (fresh.get(key) ?? old.get(key))!.label, from: old.get(key)?.at, to: fresh.get(key)?.at }))
    .filter(({ from, to }) => from?.getTime() !== to?.getTime())
    .sort((a, b) => (a.to ?? a.from)!.getTime() - (b.to ?? b.from)!.getTime());
};

const closingOf = (plan: LaunchPlan, who: Viewer, now: Date): { ends: number; open: boolean } | undefined => {
  const window = windowFor(plan, who, now);
  return window && { ends: window.closes.getTime(), open: window.opens <= now && now < window.closes };
};

/** Compares two versions of a launch's settings for the people of now. */
export const changeSummary = (source: LaunchSource, after: LaunchSettings, audience: Audience, now: Date): ChangeSummary => {
  const [old, fresh] = [planOf(source), planOf({ ...source, settings: after })];
  const deltas = new Map<number, number>();
  let [reopened, shut, earlier, later] = [0, 0, 0, 0];
  const count = (who: Viewer, people: number) => {
    const [a, b] = [closingOf(old, who, now), closingOf(fresh, who, now)];
    if (!a || !b || people === 0) return;
    if (!a.open && b.open && a.ends <= now.getTime()) reopened += people;
    if (a.open && !b.open) shut += people;
    const minutes = Math.round((b.ends - a.ends) / 60_000);
    // Whose clock has run out under both counts no more.
    if (minutes === 0 || (a.ends <= now.getTime() && b.ends <= now.getTime())) return;
    deltas.set(minutes, (deltas.get(minutes) ?? 0) + people);
    if (minutes < 0) earlier += people;
    else later += people;
  };
  const personal = old.clock.kind === "personal" && fresh.clock.kind === "personal";
  if (personal) audience.persons.forEach((who) => count(who, 1));
  else count({}, audience.watching);
  const moved = movedBells(old, fresh, now);
  const warnings: ChangeWarning[] = [];
  if (earlier > 0) warnings.push({ code: "closing_earlier", people: earlier });
  if (later > 0) warnings.push({ code: "closing_later", people: later });
  const opening = moved.find(({ key, from, to }) => key.startsWith("opening") && from && to && from > now);
  if (opening && audience.watching > 0 && !personal) warnings.push({ code: "opening_moved", people: audience.watching });
  const [seatsBefore, seatsAfter] = [source.settings.seats, after.seats];
  if (seatsBefore !== null && (seatsAfter === null || seatsAfter > seatsBefore))
    warnings.push({ code: "more_seats", from: seatsBefore, to: seatsAfter });
  const fall = lowestPrice(fresh) < lowestPrice(old) && audience.buyers > 0;
  if (fall) warnings.push({ code: "price_falls", fromMinor: lowestPrice(old), toMinor: lowestPrice(fresh), buyers: audience.buyers });
  return {
    moved,
    countdowns: [...deltas].map(([minutes, people]) => ({ minutes, people })).sort((a, b) => b.people - a.people),
    reopened,
    shut,
    warnings,
  };
};

const lowestPrice = (plan: LaunchPlan): number => Math.min(plan.price.minor, ...plan.prices.map(({ minor }) => minor));

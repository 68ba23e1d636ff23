import { Temporal } from "temporal-polyfill";
import { bells, type Bell, type BellKind } from "../view/bells";
import { planOf, type LaunchPlan, type LaunchSource } from "./launch";
import { windowFor, type Viewer } from "../clock/viewer";
import type { EmailSetting, EpisodeSetting, LaunchSettings } from "./settings";
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
  const { emails, episodes, stages, prices, featured, countdowns } = settings;
  switch (bell.kind) {
    case "email": {
      // An email at a time of day stays on one: so many days from its bell, at the hour of the new place.
      const days = Temporal.PlainDate.from(wallTimeOf(bell.at, zone).slice(0, 10)).until(wall.slice(0, 10)).days;
      const moved = (email: EmailSetting): EmailSetting =>
        email.time === null ? { ...email, minutes: email.minutes + later } : { ...email, minutes: email.minutes + 1440 * days, time: wall.slice(11) };
      return { ...settings, emails: replace(emails, bell.id, moved) };
    }
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
  /** Sequences that begin, change or end, by their names. */
  sequences: { name: string; is: "added" | "changed" | "removed" }[];
  /** Where emails come from from now on, where that changes; null is the vendor's own address. */
  sender?: string | null;
  /** How many people's countdown moves by how many minutes; above zero is later. */
  countdowns: { minutes: number; people: number }[];
  /** People whose doors the change opens again, or closes at once. */
  reopened: number;
  shut: number;
  /** People whom the last email that stated a closing told another than would hold; where the closing moves. */
  told?: number;
  warnings: ChangeWarning[];
}

/** Who is told what at present, besides those with a clock of their own. */
export interface Audience {
  /** People on the list or who came, and have not bought. */
  watching: number;
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

const changedSequences = (before: LaunchSettings, after: LaunchSettings): ChangeSummary["sequences"] => {
  const was = new Map(before.sequences.map((one) => [one.id, one]));
  const now = new Set(after.sequences.map(({ id }) => id));
  return [
    ...after.sequences.flatMap((one): ChangeSummary["sequences"] => {
      const old = was.get(one.id);
      if (!old) return [{ name: one.name, is: "added" }];
      return JSON.stringify(old) === JSON.stringify(one) ? [] : [{ name: one.name, is: "changed" }];
    }),
    ...before.sequences.filter(({ id }) => !now.has(id)).map(({ name }): ChangeSummary["sequences"][number] => ({ name, is: "removed" })),
  ];
};

const closingOf = (plan: LaunchPlan, who: Viewer, now: Date): { ends: number; open: boolean } | undefined => {
  const window = windowFor(plan, who, now);
  return window && { ends: window.closes.getTime(), open: window.opens <= now && now < window.closes };
};

/**
 * Compares two versions of a launch's settings for the people of now. Those with a clock of their own are counted in as they
 * are read, however many they are; whether any need be is `personal`.
 */
export class ChangeSummariser {
  readonly #old: LaunchPlan;
  readonly #fresh: LaunchPlan;
  readonly #seats: { before: number | null; after: number | null };
  readonly #deltas = new Map<number, number>();
  readonly #sequences: ChangeSummary["sequences"];
  readonly #sender: string | null | undefined;
  readonly personal: boolean;
  #reopened = 0;
  #shut = 0;

  constructor(
    source: LaunchSource,
    after: LaunchSettings,
    private readonly now: Date,
  ) {
    this.#old = planOf(source);
    this.#fresh = planOf({ ...source, settings: after });
    this.#sequences = changedSequences(source.settings, after);
    const [was, is] = [source.settings.sender, after.sender];
    if (was?.email !== is?.email || was?.name !== is?.name) this.#sender = is && (is.name ? `${is.name} <${is.email}>` : is.email);
    this.#seats = { before: source.settings.seats, after: after.seats };
    this.personal = this.#old.clock.kind === "personal" && this.#fresh.clock.kind === "personal";
  }

  /** Counts people in who see the clock as this one does. */
  count(who: Viewer, people = 1): void {
    const [a, b] = [closingOf(this.#old, who, this.now), closingOf(this.#fresh, who, this.now)];
    if (!a || !b || people === 0) return;
    const now = this.now.getTime();
    if (!a.open && b.open && a.ends <= now) this.#reopened += people;
    if (a.open && !b.open) this.#shut += people;
    const minutes = Math.round((b.ends - a.ends) / 60_000);
    // Whose clock has run out under both counts no more.
    if (minutes === 0 || (a.ends <= now && b.ends <= now)) return;
    this.#deltas.set(minutes, (this.#deltas.get(minutes) ?? 0) + people);
  }

  /** What the change does, in numbers, once all with a clock of their own are counted in. */
  summary({ watching, buyers }: Audience): ChangeSummary {
    if (!this.personal) this.count({}, watching);
    const people = (test: (minutes: number) => boolean) => [...this.#deltas].reduce((sum, [minutes, n]) => (test(minutes) ? sum + n : sum), 0);
    const [earlier, later] = [people((minutes) => minutes < 0), people((minutes) => minutes > 0)];
    const moved = movedBells(this.#old, this.#fresh, this.now);
    const warnings: ChangeWarning[] = [];
    if (earlier > 0) warnings.push({ code: "closing_earlier", people: earlier });
    if (later > 0) warnings.push({ code: "closing_later", people: later });
    const opening = moved.find(({ key, from, to }) => key.startsWith("opening") && from && to && from > this.now);
    if (opening && watching > 0 && !this.personal) warnings.push({ code: "opening_moved", people: watching });
    const { before, after } = this.#seats;
    if (before !== null && (after === null || after > before)) warnings.push({ code: "more_seats", from: before, to: after });
    const [fromMinor, toMinor] = [lowestPrice(this.#old), lowestPrice(this.#fresh)];
    if (toMinor < fromMinor && buyers > 0) warnings.push({ code: "price_falls", fromMinor, toMinor, buyers });
    return {
      moved,
      sequences: this.#sequences,
      ...(this.#sender === undefined ? {} : { sender: this.#sender }),
      countdowns: [...this.#deltas].map(([minutes, n]) => ({ minutes, people: n })).sort((a, b) => b.people - a.people),
      reopened: this.#reopened,
      shut: this.#shut,
      warnings,
    };
  }
}

const lowestPrice = (plan: LaunchPlan): number => Math.min(plan.price.minor, ...plan.prices.map(({ minor }) => minor));

import { formatBasisPoints, formatMoney } from "../../money";
import { shownSpan, stageStarts } from "../clock/countdown";
import { emailDueAt } from "./emailDueAt";
import { unlocksAt } from "./episodes";
import { graceEnd } from "../clock/grace";
import { subjectOf, type LaunchPlan } from "../plan/launch";
import { windowsFor, type Viewer } from "../clock/viewer";
import { priceAt } from "./price";
import { nextOpenings } from "../clock/recurrence";
import type { SaleSteps } from "./sales";

/** What a bell is of: its kind, and the setting it hangs on, by its id. */
export type BellOf =
  | { kind: "run_up" | "opening" | "closing" | "grace_end" | "start" | "stop" }
  | { kind: "stage" | "email" | "episode"; id: string }
  /** A countdown that appears, or goes, before one of the two. */
  | { kind: "look"; id: string; to: "closing" | "opening"; turns: "on" | "off" }
  | { kind: "featured"; id: string; turns: "on" | "off" }
  | { kind: "live"; id: string; is: "join" | "start" | "end" }
  /** By a date of the settings, or by what was sold: the number of the sale. */
  | { kind: "price"; id: string }
  | { kind: "price"; sale: number; is: "rise" | "last_seat" };
export type BellKind = BellOf["kind"];

/** A dated moment that changes what people see, or sends them something. */
export type Bell = BellOf & {
  /** Names the bell within its launch, however it is moved: its name, and its window's opening where there are several. */
  key: string;
  /** The same without the window: bells of one name are the same bell of several windows. */
  name: string;
  /** The opening of the window that it belongs to, where a launch has several or each person their own. */
  opens?: Date;
  at: Date;
  label: string;
};

const nameOf = (of: BellOf): string => {
  switch (of.kind) {
    case "start":
      return "opening";
    case "stage":
    case "email":
    case "episode":
      return `${of.kind}:${of.id}`;
    case "look":
      return `look_${of.turns}:${of.id}:${of.to}`;
    case "featured":
      return `featured_${of.turns}:${of.id}`;
    case "live":
      return `live${of.is === "start" ? "" : `_${of.is}`}:${of.id}`;
    case "price":
      return "id" in of ? `price:${of.id}` : of.is === "rise" ? `rise:${of.sale}` : "last_seat";
    default:
      return of.kind;
  }
};

/** A bell of a launch; `opens` where it belongs to one window of several. */
export const bellOf = (of: BellOf, at: Date, label: string, opens?: Date): Bell => {
  const name = nameOf(of);
  return { ...of, name, key: opens ? `${name}@${opens.toISOString()}` : name, ...(opens ? { opens } : {}), at, label };
};

export interface Range {
  from: Date;
  to: Date;
}
const ever: Range = { from: new Date(-8.64e15), to: new Date(8.64e15) };

const year = 366 * 86_400_000;

const shift = (at: Date, minutes: number): Date => new Date(at.getTime() + minutes * 60_000);

const unlocking = ({ title }: { title: string }) => `“${title}” unlocks`;

/** Bells of the run that hang on no window: those on the run-up, on the person's opt-in, and of live sessions. */
const bellsOfRun = (plan: LaunchPlan, who: Viewer): Bell[] =>
  plan.episodes.flatMap(({ id, page, unlock, live }) => {
    const found: Bell[] = [];
    const { at } = (unlock.on === "bell" && unlock.bell === "run_up") || unlock.on === "opt_in" ? unlocksAt(plan, unlock, who, undefined) : {};
    if (at) found.push(bellOf({ kind: "episode", id }, at, unlocking(page)));
    if (!live) return found;
    if (live.joinFrom < live.starts) found.push(bellOf({ kind: "live", id, is: "join" }, live.joinFrom, `“${page.title}” can be joined`));
    found.push(bellOf({ kind: "live", id, is: "start" }, live.starts, `“${page.title}” begins, live`));
    found.push(bellOf({ kind: "live", id, is: "end" }, live.ends, `“${page.title}” ends`));
    return found;
  });

const bellsOfWindow = (plan: LaunchPlan, opens: Date, closes: Date): Bell[] => {
  const { emails, countdowns } = plan.settings;
  const personal = plan.clock.kind === "personal";
  const bellIn = (of: BellOf, at: Date, label: string) => bellOf(of, at, label, plan.clock.kind === "fixed" ? undefined : opens);
  const found: Bell[] = [
    personal ? bellIn({ kind: "start" }, opens, "Their clock starts") : bellIn({ kind: "opening" }, opens, "Doors open"),
    bellIn({ kind: "closing" }, closes, personal ? "Their doors close" : "Doors close"),
    bellIn({ kind: "grace_end" }, graceEnd(plan, { opens, closes }), "Last begun checkout"),
  ];
  for (const { at, stage } of stageStarts(plan, closes))
    if (at > opens && at < closes) found.push(bellIn({ kind: "stage", id: stage.id }, at, `Countdown says “${stage.words}”`));
  for (const setting of countdowns)
    for (const [to, until, from] of [
      ["closing", closes, opens],
      ["opening", opens, undefined],
    ] as const) {
      if (!setting.to.includes(to) || (personal && to === "opening")) continue;
      const span = shownSpan(setting, until);
      if (Number.isFinite(span.from) && (!from || span.from > from.getTime()))
        found.push(bellIn({ kind: "look", id: setting.id, to, turns: "on" }, new Date(span.from), `A countdown to the ${to} appears`));
      if (setting.untilMinutes > 0 && (!from || span.to > from.getTime()))
        found.push(bellIn({ kind: "look", id: setting.id, to, turns: "off" }, new Date(span.to), `A countdown to the ${to} goes`));
    }
  for (const email of emails)
    found.push(bellIn({ kind: "email", id: email.id }, emailDueAt(email, { opens, closes }, plan.zone), `Email “${subjectOf(plan, email.id)}”`));
  for (const { id, page, unlock } of plan.episodes)
    if (unlock.on === "bell" && unlock.bell !== "run_up")
      found.push(bellIn({ kind: "episode", id }, shift(unlock.bell === "opening" ? opens : closes, unlock.minutes), unlocking(page)));
  return found;
};

/**
 * Every instant at which something changes for a person within a range, and what, in order. Without a person these are
 * the bells of everyone; a personal clock rings for no one in particular. A rule that never ends is listed for a year
 * from its first opening unless a range is given.
 */
export const bells = (plan: LaunchPlan, who: Viewer = {}, range?: Range): Bell[] => {
  // Stages, emails and looks stand apart from their window: windows a year around may reach into the range.
  const wide = range ? { from: new Date(range.from.getTime() - year), to: new Date(range.to.getTime() + year) } : ever;
  const first = plan.clock.kind === "recurring" && !range ? nextOpenings(plan.clock, new Date(0), 1)[0] : undefined;
  const within = first ? { from: first, to: new Date(first.getTime() + year) } : wide;
  const windows = windowsFor(plan, who, within.from, within.to);
  const all = windows.flatMap(({ opens, closes }) => bellsOfWindow(plan, opens, closes));
  if (plan.clock.kind === "fixed") all.push(bellOf({ kind: "run_up" }, plan.clock.runUp, "Run-up begins"));
  all.push(...bellsOfRun(plan, who));
  for (const { id, from } of plan.prices) all.push(bellOf({ kind: "price", id }, from, "Price changes"));
  for (const { id, from, to, rateBp } of plan.featured) {
    all.push(bellOf({ kind: "featured", id, turns: "on" }, from, `Partners earn ${formatBasisPoints(rateBp)}`));
    all.push(bellOf({ kind: "featured", id, turns: "off" }, to, `Partners’ ${formatBasisPoints(rateBp)} ends`));
  }
  if (who.stop) all.push(bellOf({ kind: "stop" }, who.stop.at, who.stop.handedTo ? "Handed to another launch" : "Their clock stops"));
  return all.filter(({ at }) => !range || (at >= range.from && at <= range.to)).sort((a, b) => a.at.getTime() - b.at.getTime());
};

/** The first bell that is still to ring within a year, or undefined. */
export const nextBell = (plan: LaunchPlan, at: Date, who: Viewer = {}): Bell | undefined =>
  bells(plan, who, { from: at, to: new Date(at.getTime() + year) }).find((bell) => bell.at > at);

/**
 * Bells that the counters rang: each rise of the price by sales, and the last seat taken, at the sale that did it.
 * Those to come have no instant yet; the countdown texts say how many sales they are away.
 */
export const counterBells = (plan: LaunchPlan, steps: SaleSteps): Bell[] => {
  const { rising, seats } = plan.settings;
  if (!rising && seats === null) return [];
  const found: Bell[] = [];
  steps.at.forEach((ms, index) => {
    const [at, sold] = [new Date(ms), steps.sold[index]!];
    const [before, after] = [priceAt(plan, at, { sold: sold - 1 }), priceAt(plan, at, { sold })];
    if (rising && after.minor > before.minor)
      found.push(
        bellOf({ kind: "price", sale: sold, is: "rise" }, at, `Sale ${sold}: the price rises to ${formatMoney(after.minor, after.currency)}`),
      );
    if (seats === sold) found.push(bellOf({ kind: "price", sale: sold, is: "last_seat" }, at, `Sale ${seats}: the last seat is taken`));
  });
  return found;
};

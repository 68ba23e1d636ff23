import { formatBasisPoints, formatMoney } from "../../money";
import { shownSpan, stageStarts } from "../clock/countdown";
import { unlocksAt } from "./episodes";
import { graceEnd } from "../clock/grace";
import type { LaunchPlan } from "../plan/launch";
import { windowsFor, type Viewer } from "../clock/viewer";
import { priceAt } from "./price";
import { nextOpenings } from "../clock/recurrence";
import type { SaleSteps } from "./sales";

export type BellKind =
  "run_up" | "opening" | "closing" | "grace_end" | "stage" | "look" | "price" | "letter" | "featured" | "episode" | "live" | "start" | "stop";

/** A dated moment that changes what people see, or sends them something. */
export interface Bell {
  /** Names the bell within its launch, however it is moved. */
  key: string;
  kind: BellKind;
  at: Date;
  label: string;
}

export interface Range {
  from: Date;
  to: Date;
}
const ever: Range = { from: new Date(-8.64e15), to: new Date(8.64e15) };

const year = 366 * 86_400_000;
const quantity = (n: number, unit: string) => `${n} ${unit}${n === 1 ? "" : "s"}`;

/** `2 days`, `1 hour 30 minutes`: a length of time in words, its empty parts left out. */
export const lengthWords = (minutes: number): string =>
  [[Math.floor(minutes / 1440), "day"] as const, [Math.floor(minutes / 60) % 24, "hour"] as const, [minutes % 60, "minute"] as const]
    .filter(([n], index) => n > 0 || (index === 2 && minutes === 0))
    .map(([n, unit]) => quantity(n, unit))
    .join(" ");

const shift = (at: Date, minutes: number): Date => new Date(at.getTime() + minutes * 60_000);

const unlocking = ({ title }: { title: string }) => `“${title}” unlocks`;

/** Bells of the run that hang on no window: those on the run-up, on the person's opt-in, and of live sessions. */
const bellsOfRun = (plan: LaunchPlan, who: Viewer): Bell[] =>
  plan.episodes.flatMap(({ id, page, unlock, live }) => {
    const found: Bell[] = [];
    const { at } = (unlock.on === "bell" && unlock.bell === "run_up") || unlock.on === "opt_in" ? unlocksAt(plan, unlock, who, undefined) : {};
    if (at) found.push({ key: `episode:${id}`, kind: "episode", at, label: unlocking(page) });
    if (!live) return found;
    if (live.joinFrom < live.starts) found.push({ key: `live_join:${id}`, kind: "live", at: live.joinFrom, label: `“${page.title}” can be joined` });
    found.push({ key: `live:${id}`, kind: "live", at: live.starts, label: `“${page.title}” begins, live` });
    found.push({ key: `live_end:${id}`, kind: "live", at: live.ends, label: `“${page.title}” ends` });
    return found;
  });

const bellsOfWindow = (plan: LaunchPlan, opens: Date, closes: Date, mark: string): Bell[] => {
  const { letters, countdowns } = plan.settings;
  const personal = plan.clock.kind === "personal";
  const found: Bell[] = [
    { key: `opening${mark}`, kind: personal ? "start" : "opening", at: opens, label: personal ? "Their clock starts" : "Doors open" },
    { key: `closing${mark}`, kind: "closing", at: closes, label: personal ? "Their doors close" : "Doors close" },
    { key: `grace_end${mark}`, kind: "grace_end", at: graceEnd(plan, { opens, closes }), label: "Last begun checkout" },
  ];
  for (const { at, stage } of stageStarts(plan, closes))
    if (at > opens && at < closes) found.push({ key: `stage:${stage.id}${mark}`, kind: "stage", at, label: `Countdown says “${stage.words}”` });
  for (const setting of countdowns)
    for (const [to, until, from] of [
      ["closing", closes, opens],
      ["opening", opens, undefined],
    ] as const) {
      if (!setting.to.includes(to) || (personal && to === "opening")) continue;
      const span = shownSpan(setting, until);
      if (Number.isFinite(span.from) && (!from || span.from > from.getTime()))
        found.push({ key: `look_on:${setting.id}:${to}${mark}`, kind: "look", at: new Date(span.from), label: `A countdown to the ${to} appears` });
      if (setting.untilMinutes > 0 && (!from || span.to > from.getTime()))
        found.push({ key: `look_off:${setting.id}:${to}${mark}`, kind: "look", at: new Date(span.to), label: `A countdown to the ${to} goes` });
    }
  for (const letter of letters)
    found.push({
      key: `letter:${letter.id}${mark}`,
      kind: "letter",
      at: shift(letter.hangsOn === "opening" ? opens : closes, letter.minutes),
      label: `Letter “${letter.subject}”`,
    });
  for (const { id, page, unlock } of plan.episodes)
    if (unlock.on === "bell" && unlock.bell !== "run_up")
      found.push({
        key: `episode:${id}${mark}`,
        kind: "episode",
        at: shift(unlock.bell === "opening" ? opens : closes, unlock.minutes),
        label: unlocking(page),
      });
  return found;
};

/**
 * Every instant at which something changes for a person within a range, and what, in order. Without a person these are
 * the bells of everyone; a personal clock rings for no one in particular. A rule that never ends is listed for a year
 * from its first opening unless a range is given.
 */
export const bells = (plan: LaunchPlan, who: Viewer = {}, range?: Range): Bell[] => {
  // Stages, letters and looks stand apart from their window: windows a year around may reach into the range.
  const wide = range ? { from: new Date(range.from.getTime() - year), to: new Date(range.to.getTime() + year) } : ever;
  const first = plan.clock.kind === "recurring" && !range ? nextOpenings(plan.clock, new Date(0), 1)[0] : undefined;
  const within = first ? { from: first, to: new Date(first.getTime() + year) } : wide;
  const windows = windowsFor(plan, who, within.from, within.to);
  const mark = (opens: Date) => (plan.clock.kind === "fixed" ? "" : `@${opens.toISOString()}`);
  const all = windows.flatMap(({ opens, closes }) => bellsOfWindow(plan, opens, closes, mark(opens)));
  if (plan.clock.kind === "fixed") all.push({ key: "run_up", kind: "run_up", at: plan.clock.runUp, label: "Run-up begins" });
  all.push(...bellsOfRun(plan, who));
  for (const { id, from } of plan.prices) all.push({ key: `price:${id}`, kind: "price", at: from, label: "Price changes" });
  for (const { id, from, to, rateBp } of plan.featured) {
    all.push({ key: `featured_on:${id}`, kind: "featured", at: from, label: `Partners earn ${formatBasisPoints(rateBp)}` });
    all.push({ key: `featured_off:${id}`, kind: "featured", at: to, label: `Partners’ ${formatBasisPoints(rateBp)} ends` });
  }
  if (who.stop) all.push({ key: "stop", kind: "stop", at: who.stop.at, label: who.stop.handedTo ? "Handed to another launch" : "Their clock stops" });
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
      found.push({ key: `rise:${sold}`, kind: "price", at, label: `Sale ${sold}: the price rises to ${formatMoney(after.minor, after.currency)}` });
    if (seats === sold) found.push({ key: "last_seat", kind: "price", at, label: `Sale ${seats}: the last seat is taken` });
  });
  return found;
};

import { covers, type LaunchPage, type LaunchPlan } from "../plan/launch";
import { windowFor, type Viewer } from "./viewer";
import type { CountdownForm, CountdownSetting, StageSetting } from "../plan/settings";

/** What a countdown runs to, and how urgent it looks by now. The same for a page, a checkout, an email and an image. */
export interface Countdown {
  until: Date;
  to: "opening" | "closing";
  /** Undefined before the first urgency stage. */
  stage?: StageSetting;
}

const before = (until: Date, minutes: number): number => until.getTime() - minutes * 60_000;

/** When each urgency stage of a countdown to a closing bell begins, the earliest first. */
export const stageStarts = (plan: Pick<LaunchPlan, "stages">, closes: Date): { at: Date; stage: StageSetting }[] =>
  plan.stages.map((stage) => ({ at: new Date(before(closes, stage.minutes)), stage }));

/** The instant a person counts down to: the opening before the doors, the closing while they are open, none after, nor once their clock was stopped. */
export const countdownAt = (plan: LaunchPlan, who: Viewer, at: Date, window = windowFor(plan, who, at)): Countdown | undefined => {
  if (who.stop && who.stop.at <= at) return undefined;
  if (!window || at >= window.closes) return undefined;
  if (at < window.opens) return { until: window.opens, to: "opening" };
  const left = window.closes.getTime() - at.getTime();
  const stage = plan.stages.findLast(({ minutes }) => left <= minutes * 60_000);
  return { until: window.closes, to: "closing", stage };
};

/** From when to when a countdown is to be seen, for a bell at `until`. */
export const shownSpan = ({ fromMinutes, untilMinutes }: CountdownSetting, until: Date): { from: number; to: number } => ({
  from: fromMinutes === null ? -Infinity : before(until, fromMinutes),
  to: before(until, untilMinutes),
});

// Which countdowns a page may carry depends on the launch alone.
const carried = new WeakMap<LaunchPage, { plan: LaunchPlan; settings: CountdownSetting[] }>();
const settingsOn = (plan: LaunchPlan, page: LaunchPage): CountdownSetting[] => {
  const kept = carried.get(page);
  if (kept?.plan === plan) return kept.settings;
  const settings = plan.settings.countdowns.filter((setting) => covers(setting.covers, page));
  carried.set(page, { plan, settings });
  return settings;
};

const none: CountdownForm[] = [];

/** The forms in which a page carries the countdown at an instant, without repetition. */
export const formsOn = (plan: LaunchPlan, page: LaunchPage, countdown: Countdown | undefined, at: Date): CountdownForm[] => {
  const settings = countdown ? settingsOn(plan, page) : [];
  if (!countdown || settings.length === 0) return none;
  const forms: CountdownForm[] = [];
  for (const setting of settings) {
    if (!setting.to.includes(countdown.to) || forms.includes(setting.form)) continue;
    const span = shownSpan(setting, countdown.until);
    if (at.getTime() >= span.from && at.getTime() < span.to) forms.push(setting.form);
  }
  return forms;
};

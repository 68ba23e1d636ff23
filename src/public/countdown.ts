import { type Locale, usualLocale } from "../core/money";
import { countdownFigure, stageStarts, type CountdownForm, type LaunchPlan, type LaunchView } from "../core/launch";
import { fullMoment, publicWords, zoneCity } from "../core/words";
import { html } from "./html";

/** What a countdown runs to, in words that stay true without script: `Doors close Friday 27 November 2026 at 00:00, Lisbon time`. */
export const countdownSentence = (countdown: NonNullable<LaunchView["countdown"]>, zone: string, locale: Locale = usualLocale): string =>
  publicWords(locale).countdown[countdown.to](fullMoment(countdown.until, zone), zoneCity(zone));

/** The urgency stages of a countdown, as milliseconds before the end with look and words, for the scripts that tick it on. */
export const stagesOf = (plan: LaunchPlan, { until, to }: NonNullable<LaunchView["countdown"]>): [leftMs: number, look: string, words: string][] =>
  to === "opening" ? [] : stageStarts(plan, until).map(({ at, stage }) => [until.getTime() - at.getTime(), stage.look, stage.words]);

type Running = NonNullable<LaunchView["countdown"]>;
// All but the instant of the answer and the figure is the same for everyone who is shown this very countdown.
const written = new WeakMap<Running, Map<CountdownForm, (ms: number) => string>>();

const write = (form: CountdownForm, plan: LaunchPlan, countdown: Running): ((ms: number) => string) => {
  const until = countdown.until.getTime();
  const { stage } = countdown;
  const open = html`<div class="count ${form} ${stage?.look ?? "quiet"}" data-until="${until}" data-stages="${JSON.stringify(stagesOf(plan, countdown))}" data-now="`;
  const words = html`"><em data-words>${stage?.words ?? ""}</em><span>${countdownSentence(countdown, plan.zone)}</span><b role="timer">`;
  const shut = html`</b><noscript><span>${publicWords().countdown.leftWhenSent}</span></noscript><span class="sr" aria-live="polite" data-said></span></div>`;
  return (ms) => `${open.text}${ms}${words.text}${countdownFigure(until - ms)}${shut.text}`;
};

/** A countdown in one of its forms: the moment in words for everyone, the figure as of this answer, ticked on by the script. */
const countdownBlock = (form: CountdownForm, plan: LaunchPlan, countdown: Running, now: Date): string => {
  let forms = written.get(countdown);
  if (!forms) written.set(countdown, (forms = new Map<CountdownForm, (ms: number) => string>()));
  let at = forms.get(form);
  if (!at) forms.set(form, (at = write(form, plan, countdown)));
  return at(now.getTime());
};

/** Where each form of a countdown stands on a page. */
const places = { bars: ["bar_top", "bar_bottom"], inline: ["inline"], card: ["card"] } as const;

/** The countdowns of a page that stand in one place, in the forms that it carries. */
export const countdownIn = (
  place: keyof typeof places,
  plan: LaunchPlan,
  countdown: LaunchView["countdown"],
  forms: readonly CountdownForm[],
  now: Date,
): string =>
  countdown
    ? places[place]
        .filter((form) => forms.includes(form))
        .map((form) => countdownBlock(form, plan, countdown, now))
        .join("")
    : "";

import { bells, phaseOf, windowFor, type Bell, type LaunchPlan } from "../../core/launch";
import { missingToCharge } from "../../core/pages";
import { counted } from "../../core/words";
import { formatMoney } from "../kit/data/numbers";
import type { AxisLaunch } from "./LaunchAxis";

const day = 86_400_000;

/** How long until an instant: `2 d 5 h`, within a day `5 h 12 min`. */
export const timeLeft = (to: Date, now: Date): string => {
  const minutes = Math.floor((to.getTime() - now.getTime()) / 60_000);
  const hours = Math.floor(minutes / 60);
  return hours >= 24 ? `${Math.floor(hours / 24)} d ${hours % 24} h` : `${hours} h ${minutes % 60} min`;
};

/** Where a launch stands among others: what rings next comes first, then what is always on; what is over comes last, the newest first. */
export const launchRank = (plan: LaunchPlan, now: Date): [number, number] => {
  const window = windowFor(plan, {}, now);
  if (!window) return [1, 0];
  const phase = phaseOf(window, now);
  if (phase === "after") return [2, -window.closes.getTime()];
  return [0, (phase === "during" ? window.closes : window.opens).getTime()];
};

/** Orders launches as `launchRank` does; of equal ones the order is kept. */
export const byRank =
  <T extends { plan: LaunchPlan }>(now: Date) =>
  (a: T, b: T): number => {
    const [[p, q], [r, s]] = [launchRank(a.plan, now), launchRank(b.plan, now)];
    return p - r || q - s;
  };

interface LaunchFacts {
  plan: LaunchPlan;
  name: string;
  since: Date;
  currency: string;
  figures?: { people: number; orders: number; grossMinor: number };
  /** Personal clocks that run now; asked of an always-on launch only. */
  clocks: number;
}

const statusWords = (plan: LaunchPlan, missing: number, clocks: number, now: Date): string => {
  const window = windowFor(plan, {}, now);
  const phase = window && phaseOf(window, now);
  if (missing > 0 && phase !== "after") return `Draft: ${missing} needed ${missing === 1 ? "page is" : "pages are"} not published`;
  if (!window) return `Always on; ${clocks === 1 ? "1 clock runs" : `${clocks.toLocaleString("en")} clocks run`}`;
  if (phase === "during") return `Doors open; they close in ${timeLeft(window.closes, now)}`;
  if (phase === "after") return "Closed";
  return `${plan.clock.kind === "recurring" ? "Closed" : "Run-up"}; doors open in ${timeLeft(window.opens, now)}`;
};

/** A launch as its line on the axis of all launches says it. */
export const launchLine = ({ plan, name, since, currency, figures, clocks }: LaunchFacts, now: Date): AxisLaunch => {
  const { people = 0, orders = 0, grossMinor = 0 } = figures ?? {};
  const missing = missingToCharge(plan).length;
  const window = windowFor(plan, {}, now);
  return {
    plan,
    name,
    status: statusWords(plan, missing, clocks, now),
    draft: missing > 0 && !(window && phaseOf(window, now) === "after"),
    money: orders > 0 ? formatMoney(grossMinor, currency) : "–",
    counts: [...(orders > 0 ? [counted(orders, "order")] : []), counted(people, "person", "people")].join(", "),
    since,
  };
};

export interface ComingBell {
  plan: LaunchPlan;
  name: string;
  bell: Bell;
}

/** The next bells of all launches within 120 days, at most `most`; looks of countdowns and ends of grace are left out. */
export const comingBells = (launches: { plan: LaunchPlan; name: string }[], now: Date, most: number): ComingBell[] =>
  launches
    .flatMap(({ plan, name }) => bells(plan, {}, { from: now, to: new Date(now.getTime() + 120 * day) }).map((bell) => ({ plan, name, bell })))
    .filter(({ bell }) => bell.at > now && bell.kind !== "grace_end" && bell.kind !== "look")
    .sort((a, b) => a.bell.at.getTime() - b.bell.at.getTime())
    .slice(0, most);

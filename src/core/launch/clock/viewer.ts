import { personalWindows } from "./personalClock";
import { windowAround, windowsBetween } from "./recurrence";
import type { LaunchPlan } from "../plan/launch";
import { phaseOf, type Window, type WindowPhase } from "./window";

/** What is known of the person who looks, up to now: nothing at all for a new visitor. */
export interface Viewer {
  /** Starts of the personal clock, of every identity that is this person, in order. */
  starts?: readonly Date[];
  /** The clock stopped for them early: they bought, or reached a chosen page. Another launch's address where they were handed on. */
  stop?: { at: Date; handedTo?: string };
  checkoutBegunAt?: Date;
  /** When their order was placed. */
  orderedAt?: Date;
  /** When they joined the list. */
  subscribedAt?: Date;
  /** Whether a seat is theirs: they have paid, or are paying. */
  seated?: boolean;
}

/** What was known of a person at an instant: nothing that came later. */
export const asOf = (who: Viewer, at: Date): Viewer => {
  const { starts, stop, checkoutBegunAt, orderedAt, subscribedAt } = who;
  const later = (date: Date | undefined) => date !== undefined && date > at;
  // Mostly nothing lies ahead, and the same facts hold.
  if (!later(starts?.at(-1)) && !later(stop?.at) && !later(checkoutBegunAt) && !later(orderedAt) && !later(subscribedAt)) return who;
  const known = <T extends Date>(date: T | undefined) => (date && date <= at ? date : undefined);
  return {
    starts: starts?.filter((start) => start <= at),
    stop: who.stop && who.stop.at <= at ? who.stop : undefined,
    checkoutBegunAt: known(who.checkoutBegunAt),
    orderedAt: known(who.orderedAt),
    subscribedAt: known(who.subscribedAt),
    seated: who.seated,
  };
};

const windowsOfPerson = (plan: LaunchPlan, starts: readonly Date[]): Window[] =>
  plan.clock.kind === "personal" ? personalWindows(plan.clock, plan.zone, starts) : [];

/** The window that holds for a person at an instant: the open one, else the next, else the last. Undefined before a personal clock starts. */
export const windowFor = (plan: LaunchPlan, who: Viewer, at: Date): Window | undefined => {
  if (plan.clock.kind === "fixed") return plan.clock.window;
  if (plan.clock.kind === "recurring") return windowAround(plan.clock, at);
  // What has not started yet is not known yet: the newest start that was.
  return windowsOfPerson(plan, who.starts ?? []).findLast(({ opens }) => opens <= at);
};

/** Every window of a person that touches `[from, to)`. */
export const windowsFor = (plan: LaunchPlan, who: Viewer, from: Date, to: Date): Window[] => {
  const all =
    plan.clock.kind === "fixed"
      ? [plan.clock.window]
      : plan.clock.kind === "recurring"
        ? windowsBetween(plan.clock, from, to)
        : windowsOfPerson(plan, who.starts ?? []);
  return all.filter(({ opens, closes }) => opens < to && closes > from);
};

/** Where a person stands to the window that holds for them: before, while or after the doors are open. A personal clock that was stopped stays where it stood. */
export const windowAndPhase = (plan: LaunchPlan, who: Viewer, at: Date): { window: Window | undefined; phase: WindowPhase } => {
  const from = plan.clock.kind === "personal" && who.stop && who.stop.at <= at ? who.stop.at : at;
  const window = windowFor(plan, who, from);
  return { window, phase: window ? phaseOf(window, from) : "before" };
};

/** The phase in which a person stands. */
export const phaseFor = (plan: LaunchPlan, who: Viewer, at: Date): WindowPhase => windowAndPhase(plan, who, at).phase;

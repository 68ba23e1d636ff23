import type { LaunchPlan } from "../plan/launch";
import { windowFor, type Viewer } from "./viewer";
import { phaseOf, type Window } from "./window";

export type CheckoutRefusal =
  { code: "doors_not_open"; opensAt?: Date } | { code: "doors_closed"; closedAt: Date } | { code: "grace_over"; graceEndedAt: Date };

/** The instant at which a checkout begun in a window can no longer be paid. */
export const graceEnd = (plan: LaunchPlan, window: Window): Date => new Date(window.closes.getTime() + plan.settings.graceMinutes * 60_000);

/**
 * Whether a person may pay a checkout at an instant; undefined means yes. One begun while the doors were open to them
 * may finish within the grace time; one begun outside their window never may.
 */
export const checkoutRefusal = (plan: LaunchPlan, who: Viewer, at: Date): CheckoutRefusal | undefined => {
  const window = windowFor(plan, who, at);
  if (window && phaseOf(window, at) === "during") return undefined;
  const begun = who.checkoutBegunAt;
  // The window in which it was begun: with a recurring or re-armed clock not always the newest one.
  const then = begun && windowFor(plan, who, begun);
  const inTime = then !== undefined && phaseOf(then, begun!) === "during" && at >= then.closes;
  if (inTime && at < graceEnd(plan, then)) return undefined;
  if (!window || phaseOf(window, at) === "before") return { code: "doors_not_open", opensAt: window?.opens };
  return inTime ? { code: "grace_over", graceEndedAt: graceEnd(plan, then) } : { code: "doors_closed", closedAt: window.closes };
};

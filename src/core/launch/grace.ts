import type { LaunchPlan } from "./launch";
import { phaseOf } from "./window";

export type CheckoutRefusal =
  { code: "doors_not_open"; opensAt: Date } | { code: "doors_closed"; closedAt: Date } | { code: "grace_over"; graceEndedAt: Date };

/** The instant at which a checkout begun before the closing bell can no longer be paid. */
export const graceEnd = (launch: LaunchPlan): Date => new Date(launch.window.closes.getTime() + launch.graceMinutes * 60_000);

/**
 * Whether a checkout may be paid at an instant; undefined means yes. One begun while the doors were open may
 * finish within the grace time; one begun outside the window never may.
 */
export const checkoutRefusal = (launch: LaunchPlan, begunAt: Date | undefined, at: Date): CheckoutRefusal | undefined => {
  const now = phaseOf(launch.window, at);
  if (now === "before") return { code: "doors_not_open", opensAt: launch.window.opens };
  if (now === "during") return undefined;
  const begunInTime = begunAt !== undefined && phaseOf(launch.window, begunAt) === "during";
  if (!begunInTime) return { code: "doors_closed", closedAt: launch.window.closes };
  return at < graceEnd(launch) ? undefined : { code: "grace_over", graceEndedAt: graceEnd(launch) };
};

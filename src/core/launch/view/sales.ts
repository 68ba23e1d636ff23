import type { LaunchPlan } from "../plan/launch";
import type { Counters } from "./price";

/**
 * How the counter of sales grew: at each of these instants (epoch milliseconds, in order) it stood at that number. Where
 * the price rises or the last seat goes there is a step; elsewhere there may be fewer steps than sales.
 */
export interface SaleSteps {
  at: readonly number[];
  sold: readonly number[];
}

/** The counters at an instant, and when they changed what people see. */
export interface CounterHistory {
  at(instant: Date): Counters;
  changes: readonly Date[];
}

/** How many had been sold by an instant, the instant included; as far as the steps tell. */
export const soldAt = ({ at, sold }: SaleSteps, ms: number): number => {
  let [low, high] = [0, at.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (at[middle]! <= ms) low = middle + 1;
    else high = middle;
  }
  return low === 0 ? 0 : sold[low - 1]!;
};

/** The counters over time: they change what people see when the last seat goes. */
export const counterHistory = (plan: LaunchPlan, steps: SaleSteps): CounterHistory => {
  const { seats } = plan.settings;
  const full = seats === null ? -1 : steps.sold.findIndex((n) => n >= seats);
  const at = (instant: Date): Counters => ({ sold: soldAt(steps, instant.getTime()) });
  return { at, changes: full < 0 ? [] : [new Date(steps.at[full]!)] };
};

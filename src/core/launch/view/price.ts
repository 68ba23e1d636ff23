import type { LaunchPlan } from "../plan/launch";
import { usualSoldOut } from "../plan/settings";

/** The true counters behind seats and the rising price. */
export interface Counters {
  /** How many of the main product were sold. */
  sold: number;
  /** Seats that are taken, those being paid at this moment among them; where it is not counted apart, what was sold. */
  taken?: number;
  /** Whether all seats have been taken at some time. */
  soldOutOnce?: boolean;
}

export interface PriceView {
  minor: number;
  currency: string;
  /** What comes next, where something does: after so many more sales, or at an instant. */
  rises?: { afterSales: number; toMinor: number } | { at: Date; toMinor: number };
}

const risen = (plan: LaunchPlan, base: number, sold: number): number => {
  const { rising } = plan.settings;
  // What rises with time stands among the dated prices.
  if (!rising || rising.by === "time") return base;
  return Math.max(base, Math.min(rising.capMinor, base + Math.floor(sold / rising.every) * rising.stepMinor));
};

/** The price at an instant after so many sales: the dated price that holds, raised by a step for every so many sales, up to the cap. */
export const priceAt = (plan: LaunchPlan, at: Date, { sold }: Counters): PriceView => {
  const { rising } = plan.settings;
  const base = plan.prices.findLast(({ from }) => from <= at)?.minor ?? plan.price.minor;
  const minor = risen(plan, base, sold);
  const { currency } = plan.price;
  if (rising && rising.by !== "time") {
    const afterSales = rising.every - (sold % rising.every);
    const toMinor = risen(plan, base, sold + afterSales);
    if (toMinor > minor) return { minor, currency, rises: { afterSales, toMinor } };
  }
  // Sales that raise it no further have taken it to the cap: a dated price is dearer only above that, where it stands as it is.
  const next = plan.prices.find(({ from }) => from > at);
  return next && next.minor > minor ? { minor, currency, rises: { at: next.from, toMinor: next.minor } } : { minor, currency };
};

/** Seats that are left; undefined where they are not counted. Never below zero. */
export const seatsLeft = (plan: LaunchPlan, { sold, taken = sold }: Counters): { left: number; of: number } | undefined => {
  const { seats } = plan.settings;
  return seats === null ? undefined : { left: Math.max(0, seats - taken), of: seats };
};

/** Whether the launch sells: to all, to nobody, or, once a seat has come back, to those alone who stand on its list. */
export const availability = (plan: LaunchPlan, counters: Counters): "open" | "list_only" | "sold_out" => {
  const seats = seatsLeft(plan, counters);
  if (!seats) return "open";
  if (seats.left === 0) return "sold_out";
  return counters.soldOutOnce && (plan.settings.soldOut ?? usualSoldOut).reopens === "list" ? "list_only" : "open";
};

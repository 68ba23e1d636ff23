import { fullMoment, publicWords, zoneCity } from "../../words";
import { formatMoney, usualLocale, type Locale } from "../../money";
import type { LaunchPlan } from "../plan/launch";
import { phaseFor, windowFor, type Viewer } from "../clock/viewer";
import type { PriceView } from "./price";

/** The phase in words: `Run-up`, `Doors open, day 4 of 6`, `Doors closed`; for a personal clock that of a person, if one is named. */
export const phaseWords = (plan: LaunchPlan, at: Date, who?: Viewer): string => {
  const person = who?.starts?.some((start) => start <= at) ? who : undefined;
  if (plan.clock.kind === "personal" && !person) return "Always on, a clock for each person";
  const phase = phaseFor(plan, who ?? {}, at);
  if (phase === "before") return plan.clock.kind === "recurring" ? "Doors closed until they open again" : "Run-up, doors closed";
  if (phase === "after") return plan.clock.kind === "personal" ? "Their doors are closed" : "Doors closed";
  const day = 86_400_000;
  const { opens, closes } = windowFor(plan, who ?? {}, at)!;
  const length = Math.max(1, Math.ceil((closes.getTime() - opens.getTime()) / day));
  const number = Math.min(length, Math.floor((at.getTime() - opens.getTime()) / day) + 1);
  return `${plan.clock.kind === "personal" ? "Their doors are open" : "Doors open"}, day ${number} of ${length}`;
};

/** Seats that are left and the next rise of the price, in words; from the counters that the checkout obeys. */
export const scarcity = (
  { rises, currency }: PriceView,
  seats: { left: number; of: number } | undefined,
  zone: string,
  locale: Locale = usualLocale,
): string[] => {
  const { price: w } = publicWords(locale);
  const claims: string[] = [];
  if (seats) claims.push(seats.left === 0 ? w.allTaken(seats.of) : w.seatsLeft(seats.left, seats.of));
  if (rises) {
    const to = formatMoney(rises.toMinor, currency, locale);
    claims.push("at" in rises ? w.rises(to, fullMoment(rises.at, zone), zoneCity(zone)) : w.risesAfter(to, rises.afterSales));
  }
  return claims;
};

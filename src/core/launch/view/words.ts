import { formatMoney } from "../../money";
import type { LaunchPlan } from "../plan/launch";
import { phaseFor, windowFor, type Viewer } from "../clock/viewer";
import type { PriceView } from "./price";

type Style = "short" | "day" | "time" | "near";
const time = { hour: "2-digit", minute: "2-digit", hourCycle: "h23" } as const;
const styles: Record<Style, Intl.DateTimeFormatOptions> = {
  short: { weekday: "short", day: "numeric", month: "short", ...time },
  day: { weekday: "long", day: "numeric", month: "long", year: "numeric" },
  time,
  near: { weekday: "long", ...time },
};
// Making a formatter costs a hundred times more than using it, and every public page needs two.
const formatters = new Map<string, Intl.DateTimeFormat>();
const format = (at: Date, zone: string, style: Style): string => {
  const key = `${style} ${zone}`;
  let formatter = formatters.get(key);
  if (!formatter) formatters.set(key, (formatter = new Intl.DateTimeFormat("en-GB", { timeZone: zone, ...styles[style] })));
  return formatter.format(at);
};

/** `Fri 27 Nov, 18:00`: an instant in a zone, 24-hour, English. */
export const shortMoment = (at: Date, zone: string): string => format(at, zone, "short");

/** `14:35`, in a launch's zone. */
export const clockTime = (at: Date, zone: string): string => format(at, zone, "time");

/** `Friday 27 November 2026 at 18:00`: an instant in a zone, in full. */
export const fullMoment = (at: Date, zone: string): string => `${format(at, zone, "day").replace(",", "")} at ${format(at, zone, "time")}`;

const sixDays = 6 * 86_400_000;
/** `Thursday 18:00`, or `Thu 3 Dec, 18:00` where it is more than six days away. */
export const nearMoment = (at: Date, now: Date, zone: string): string =>
  at.getTime() - now.getTime() < sixDays ? format(at, zone, "near").replace(",", "") : shortMoment(at, zone);

/** `Lisbon` for `Europe/Lisbon`. */
export const zoneCity = (zone: string): string => (zone.split("/").at(-1) ?? zone).replaceAll("_", " ");

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

/** That no seat is left, of how many there were. */
export const allTaken = (of: number): string => (of === 1 ? "The only seat is taken" : `All ${of} seats are taken`);

/** Seats that are left and the next rise of the price, in words; from the counters that the checkout obeys. */
export const scarcity = ({ rises, currency }: PriceView, seats: { left: number; of: number } | undefined, zone: string): string[] => {
  const claims: string[] = [];
  if (seats) claims.push(seats.left === 0 ? allTaken(seats.of) : `${seats.left} of ${seats.of} seats left`);
  if (rises) {
    const to = formatMoney(rises.toMinor, currency);
    claims.push(
      "at" in rises
        ? `The price rises to ${to} on ${fullMoment(rises.at, zone)}, ${zoneCity(zone)} time`
        : `The price rises to ${to} in ${rises.afterSales} ${rises.afterSales === 1 ? "sale" : "sales"}`,
    );
  }
  return claims;
};

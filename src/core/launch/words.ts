import type { LaunchPlan } from "./launch";
import { phaseOf } from "./window";

type Style = "short" | "day" | "time";
const time = { hour: "2-digit", minute: "2-digit", hourCycle: "h23" } as const;
const styles: Record<Style, Intl.DateTimeFormatOptions> = {
  short: { weekday: "short", day: "numeric", month: "short", ...time },
  day: { weekday: "long", day: "numeric", month: "long", year: "numeric" },
  time,
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

/** `Friday 27 November 2026 at 18:00`: an instant in a zone, in full. */
export const fullMoment = (at: Date, zone: string): string => `${format(at, zone, "day").replace(",", "")} at ${format(at, zone, "time")}`;

/** `Lisbon` for `Europe/Lisbon`. */
export const zoneCity = (zone: string): string => (zone.split("/").at(-1) ?? zone).replaceAll("_", " ");

/** The phase in words: `Run-up`, `Doors open, day 4 of 6`, `Doors closed`. */
export const phaseWords = (launch: Pick<LaunchPlan, "window">, at: Date): string => {
  const phase = phaseOf(launch.window, at);
  if (phase === "before") return "Run-up, doors closed";
  if (phase === "after") return "Doors closed";
  const day = 86_400_000;
  const { opens, closes } = launch.window;
  const length = Math.ceil((closes.getTime() - opens.getTime()) / day);
  return `Doors open, day ${Math.floor((at.getTime() - opens.getTime()) / day) + 1} of ${length}`;
};

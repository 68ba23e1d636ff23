import type { LaunchPlan } from "./launch";
import { phaseOf } from "./window";

/** `Fri 27 Nov, 18:00`: an instant in a zone, 24-hour, English. */
export const shortMoment = (at: Date, zone: string): string =>
  new Intl.DateTimeFormat("en-GB", {
    timeZone: zone,
    weekday: "short",
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
    hourCycle: "h23",
  }).format(at);

/** `Friday 27 November 2026 at 18:00`: an instant in a zone, in full. */
export const fullMoment = (at: Date, zone: string): string => {
  const day = new Intl.DateTimeFormat("en-GB", { timeZone: zone, weekday: "long", day: "numeric", month: "long", year: "numeric" });
  const time = new Intl.DateTimeFormat("en-GB", { timeZone: zone, hour: "2-digit", minute: "2-digit", hourCycle: "h23" });
  return `${day.format(at).replace(",", "")} at ${time.format(at)}`;
};

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

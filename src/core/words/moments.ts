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

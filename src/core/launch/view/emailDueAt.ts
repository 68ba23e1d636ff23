import { Temporal } from "temporal-polyfill";
import type { EmailSetting } from "../plan/settings";
import type { Window } from "../clock/window";

/** What of an email says when it goes. */
export type EmailMoment = Pick<EmailSetting, "hangsOn" | "minutes" | "time">;

const day = 1440;

/**
 * When an email goes that hangs on a bell of a window: so long before or after it; with a time of day, on the day so many days from the bell's, in the
 * launch's zone. A time of day that the clocks leave out or repeat is taken as `compatible` (ECMAScript Temporal).
 */
export const emailDueAt = ({ hangsOn, minutes, time }: EmailMoment, { opens, closes }: Window, zone: string): Date => {
  const bell = (hangsOn === "opening" ? opens : closes).getTime();
  if (time === null) return new Date(bell + minutes * 60_000);
  const date = Temporal.Instant.fromEpochMilliseconds(bell).toZonedDateTimeISO(zone).toPlainDate();
  const on = date.add({ days: Math.round(minutes / day) });
  return new Date(on.toZonedDateTime({ timeZone: zone, plainTime: time }).epochMilliseconds);
};

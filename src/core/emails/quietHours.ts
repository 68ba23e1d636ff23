import { Temporal } from "temporal-polyfill";
import { z } from "zod";
import { timeOfDay } from "../launch";

/** Hours in which nobody gets mail that goes to many, by the clock on their own wall; `to` may be on the next day. */
export const quietHours = z.object({ from: timeOfDay, to: timeOfDay });
export type QuietHours = z.infer<typeof quietHours>;

/** One night of quiet: `[from, to)`. */
export interface QuietSpan {
  from: Date;
  to: Date;
}

/**
 * The quiet hours that an instant falls into in a zone, or undefined where it falls into none. A time of day that the clocks leave out or repeat is taken
 * as `compatible` (ECMAScript Temporal); hours that begin when they end are none.
 */
export const quietAt = (quiet: QuietHours | null, at: Date, zone: string): QuietSpan | undefined => {
  if (!quiet || quiet.from === quiet.to) return undefined;
  const today = Temporal.Instant.fromEpochMilliseconds(at.getTime()).toZonedDateTimeISO(zone).toPlainDate();
  const on = (date: Temporal.PlainDate, time: string) => new Date(date.toZonedDateTime({ timeZone: zone, plainTime: time }).epochMilliseconds);
  const ends = quiet.to < quiet.from ? 1 : 0;
  for (const back of [ends, 0]) {
    const begins = today.subtract({ days: back });
    const [from, to] = [on(begins, quiet.from), on(begins.add({ days: ends }), quiet.to)];
    if (at >= from && at < to) return { from, to };
  }
  return undefined;
};

import { z } from "zod";
import { faultIssue } from "../words";
import { quietAt, quietHours } from "./quietHours";

const hour = 3_600_000;
/** Over how long the emails to one person are counted. */
export const capSpanMs = 24 * hour;

/** How mail that goes to many is held back, over all launches. */
export const sendingLimits = z
  .object({
    quiet: quietHours.nullable(),
    /** The most that one person gets in any 24 hours. */
    perDay: z.number().int().nullable(),
    /** The most that is handed to the mail server in a minute. */
    perMinute: z.number().int().nullable(),
  })
  .superRefine(({ quiet, perDay, perMinute }, context) => {
    if (quiet && quiet.from === quiet.to) context.addIssue(faultIssue(["quiet", "to"], { code: "quiet_whole_day" }));
    if (perDay !== null && (perDay < 1 || perDay > 50)) context.addIssue(faultIssue(["perDay"], { code: "between", least: 1, most: 50 }));
    if (perMinute !== null && (perMinute < 1 || perMinute > 100_000))
      context.addIssue(faultIssue(["perMinute"], { code: "between", least: 1, most: 100_000 }));
  });
export type SendingLimits = z.infer<typeof sendingLimits>;
export const noLimits: SendingLimits = { quiet: null, perDay: null, perMinute: null };

/** What is known of somebody's mail when one more email is due for them. */
export interface Mailbox {
  /** Their zone. */
  zone: string;
  /** When mail to many went to them within the last 24 hours. */
  sent: readonly Date[];
  /** When last calls will go to them within the next 24 hours. */
  lastCalls: readonly Date[];
}

/** Whether an email goes now, waits, or cannot go in time any more. */
export type Paced = "go" | { waitUntil: Date } | { stop: "quiet_past_close" | "cap_past_close" };

/** Whether one more email at an instant stays within the cap, those that must go after it counted. */
const fits = (at: number, { sent, lastCalls }: Mailbox, perDay: number): boolean => {
  const before = sent.filter((one) => one.getTime() > at - capSpanMs && one.getTime() <= at).length;
  const around = lastCalls.filter((one) => Math.abs(one.getTime() - at) < capSpanMs).length;
  return before + around < perDay;
};

/**
 * Whether an email to many goes to somebody at an instant. It waits for the end of their quiet hours, and until it is one of at most so many in any 24
 * hours, among which last calls have their place kept; what would wait beyond the close that it leads up to is not sent. A last call itself goes: what
 * could be done for the reader's night was done when it was dated.
 */
export const paced = (
  { quiet, perDay }: SendingLimits,
  mailbox: Mailbox,
  { at, lastCall, closes }: { at: Date; lastCall: boolean; closes?: Date | undefined },
): Paced => {
  if (lastCall) return "go";
  const night = quietAt(quiet, at, mailbox.zone);
  if (night) return closes && night.to >= closes ? { stop: "quiet_past_close" } : { waitUntil: night.to };
  if (perDay === null || fits(at.getTime(), mailbox, perDay)) return "go";
  const places = [...mailbox.sent, ...mailbox.lastCalls].map((one) => one.getTime() + capSpanMs).sort((a, b) => a - b);
  const free = new Date(places.find((one) => one > at.getTime() && fits(one, mailbox, perDay)) ?? at.getTime() + capSpanMs);
  return closes && free >= closes ? { stop: "cap_past_close" } : { waitUntil: free };
};

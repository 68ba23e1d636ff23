import { z } from "zod";
import { faultIssue } from "../words";
import { quietAt, quietHours } from "./quietHours";

const hour = 3_600_000;
/** Over how long the emails to one person are counted, and for how long one is enough for those who want fewer. */
export const capSpanMs = 24 * hour;
export const fewerSpanMs = 7 * 24 * hour;

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
  /** When mail to many went to them lately: within the last 24 hours, or the last week where they want fewer. */
  sent: readonly Date[];
  /** When last calls will go to them within as long ahead. */
  lastCalls: readonly Date[];
  /** Whether they asked for no more than one a week. */
  fewer?: boolean;
}

/** Whether an email goes now, waits, or cannot go in time any more. */
export type Paced = "go" | { waitUntil: Date } | { stop: "quiet_past_close" | "cap_past_close" };

/** The most that somebody gets in any span of so long. */
interface Cap {
  most: number;
  spanMs: number;
}
const capsOf = ({ perDay }: SendingLimits, { fewer }: Mailbox): Cap[] => [
  ...(perDay === null ? [] : [{ most: perDay, spanMs: capSpanMs }]),
  ...(fewer ? [{ most: 1, spanMs: fewerSpanMs }] : []),
];

/** Whether one more email at an instant stays within the caps, those that must go after it counted. */
const fits = (at: number, { sent, lastCalls }: Mailbox, caps: readonly Cap[]): boolean =>
  caps.every(({ most, spanMs }) => {
    const before = sent.filter((one) => one.getTime() > at - spanMs && one.getTime() <= at).length;
    const around = lastCalls.filter((one) => Math.abs(one.getTime() - at) < spanMs).length;
    return before + around < most;
  });

/**
 * Whether an email to many goes to somebody at an instant. It waits for the end of their quiet hours, and until it is one of at most so many in any 24
 * hours, among which last calls have their place kept; what would wait beyond the close that it leads up to is not sent. A last call itself goes: what
 * could be done for the reader's night was done when it was dated.
 */
export const paced = (
  limits: SendingLimits,
  mailbox: Mailbox,
  { at, lastCall, closes }: { at: Date; lastCall: boolean; closes?: Date | undefined },
): Paced => {
  // What the vendor set gives way to a last call; what its reader asked for does not.
  if (lastCall)
    return !mailbox.fewer || fits(at.getTime(), { ...mailbox, lastCalls: [] }, [{ most: 1, spanMs: fewerSpanMs }])
      ? "go"
      : { stop: "cap_past_close" };
  const night = quietAt(limits.quiet, at, mailbox.zone);
  if (night) return closes && night.to >= closes ? { stop: "quiet_past_close" } : { waitUntil: night.to };
  const caps = capsOf(limits, mailbox);
  if (fits(at.getTime(), mailbox, caps)) return "go";
  const taken = [...mailbox.sent, ...mailbox.lastCalls].map((one) => one.getTime());
  const places = caps.flatMap(({ spanMs }) => taken.map((one) => one + spanMs)).sort((a, b) => a - b);
  const free = new Date(places.find((one) => one > at.getTime() && fits(one, mailbox, caps)) ?? at.getTime() + fewerSpanMs);
  return closes && free >= closes ? { stop: "cap_past_close" } : { waitUntil: free };
};

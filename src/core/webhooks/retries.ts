const second = 1_000;
const minute = 60 * second;
const hour = 60 * minute;

/**
 * How long a message waits after each try that failed, in milliseconds. The Standard Webhooks specification suggests this schedule, of about three days
 * ("Deliverability and reliability"; values from memory).
 */
export const retryWaits: readonly number[] = [5 * second, 5 * minute, 30 * minute, 2 * hour, 5 * hour, 10 * hour, 14 * hour, 20 * hour, 24 * hour];

/** What a receiver answered: a status of HTTP, or none, with why. */
export interface Answered {
  status: number | null;
  /** What it asks to wait, in milliseconds (RFC 9110, Retry-After). */
  retryAfterMs?: number;
}

/** What becomes of a message by what was answered to it: it is there, it is tried again, or it has failed; `gone` where the receiver wants no more. */
export type Outcome = { is: "delivered" } | { is: "retry"; at: Date } | { is: "failed"; gone: boolean };

const longestAsked = 24 * hour;

/** What becomes of a message after so many tries, the one that was answered among them. Whoever asks for more patience than the schedule has gets it, up to a day. */
export const outcomeOf = ({ status, retryAfterMs = 0 }: Answered, tries: number, now: Date): Outcome => {
  if (status !== null && status >= 200 && status < 300) return { is: "delivered" };
  if (status === 410) return { is: "failed", gone: true };
  const wait = retryWaits[tries - 1];
  if (wait === undefined) return { is: "failed", gone: false };
  return { is: "retry", at: new Date(now.getTime() + Math.max(wait, Math.min(retryAfterMs, longestAsked))) };
};

/** How long a message is tried, in milliseconds, where nobody asks for more patience. */
export const triedForMs = retryWaits.reduce((sum, wait) => sum + wait, 0);

/** How long the secret before the newest one still signs beside it, so that a receiver can be changed without missing anything. */
export const oldSecretMs = 24 * hour;

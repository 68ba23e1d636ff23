import type { Window } from "../launch";

/** What the play for unfinished checkouts needs to know of one of them. */
export interface OpenCheckout {
  lastActivityAt: Date;
  paid: boolean;
  unsubscribed: boolean;
}

export type RecoveryStop = "paid" | "unsubscribed" | "doors_closed" | "active_again";

/** When the email to a lost buyer is due: `delayMinutes` after the last activity; undefined where no doors are open, or the closing bell comes first. */
export const recoveryDueAt = (lastActivityAt: Date, delayMinutes: number, window: Window | undefined): Date | undefined => {
  const due = new Date(lastActivityAt.getTime() + delayMinutes * 60_000);
  return window && due < window.closes ? due : undefined;
};

/** Why the email must not go at `at`, or undefined when it may. */
export const recoveryStop = (checkout: OpenCheckout, delayMinutes: number, window: Window | undefined, at: Date): RecoveryStop | undefined => {
  if (checkout.paid) return "paid";
  if (checkout.unsubscribed) return "unsubscribed";
  if (!window || at >= window.closes) return "doors_closed";
  return at.getTime() - checkout.lastActivityAt.getTime() < delayMinutes * 60_000 ? "active_again" : undefined;
};

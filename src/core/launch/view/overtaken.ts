import type { EmailSetting } from "../plan/settings";
import type { Window } from "../clock/window";

/** Why an email that hangs on a bell says nothing true any more. */
export type Overtaken = "doors_closed" | "next_is_due" | "too_late";

const minute = 60_000;
/** However little time an email names, so much it may be late. */
const leastMinutes = 45;
/** An email about what has happened (doors that opened, doors that closed) may be so late. */
const afterMinutes = 48 * 60;

/** When an email goes that hangs on a bell of a window. */
export const emailDueAt = ({ hangsOn, minutes }: Pick<EmailSetting, "hangsOn" | "minutes">, { opens, closes }: Window): Date =>
  new Date((hangsOn === "opening" ? opens : closes).getTime() + minutes * minute);

/**
 * Why an email must not go at an instant, or undefined where it still says the truth. "Closes in a day" is untrue when
 * half of that day is gone, when the next email to the same bell is due, and when the doors are closed; an email about
 * open doors when they are closed; and any email two days after what it tells of.
 */
export const overtaken = (
  email: Pick<EmailSetting, "id" | "hangsOn" | "minutes">,
  all: readonly Pick<EmailSetting, "id" | "hangsOn" | "minutes">[],
  window: Window,
  at: Date,
): Overtaken | undefined => {
  const now = at.getTime();
  const due = emailDueAt(email, window).getTime();
  const closes = window.closes.getTime();
  if (due < closes && now >= closes) return "doors_closed";
  const before = email.hangsOn === "closing" ? due < closes : due < window.opens.getTime();
  // Of several emails that lead up to one bell, a later one says it better.
  const next = all.some(
    (other) => other.id !== email.id && other.hangsOn === email.hangsOn && other.minutes > email.minutes && emailDueAt(other, window) <= at,
  );
  if (before && next) return "next_is_due";
  if (before && email.hangsOn === "opening" && now >= window.opens.getTime()) return "too_late";
  const mayBeLate = before ? Math.max(leastMinutes, -email.minutes / 2) : afterMinutes;
  return now - due > mayBeLate * minute ? "too_late" : undefined;
};

import { emailDueAt } from "../launch";
import { bellEmailDueAt, type BellEmails, type EmailReader, type HungEmail } from "./bellEmails";

/** Why an email that hangs on a bell says nothing true any more. */
export type Overtaken = "doors_closed" | "next_is_due" | "too_late";

const minute = 60_000;
/** However little time an email names, so much it may be late. */
const leastMinutes = 45;
/** An email about what has happened (doors that opened, doors that closed) may be so late. */
const afterMinutes = 48 * 60;

/**
 * Why an email must not go at an instant, or undefined where it still says the truth. "Closes in a day" is untrue when
 * half of that day is gone, when the next email to the same bell is due, and when the doors are closed; an email about
 * open doors when they are closed; and any email two days after what it tells of.
 */
export const overtaken = (email: HungEmail, run: BellEmails, at: Date, reader?: EmailReader): Overtaken | undefined => {
  const { opens, closes } = run.window;
  const [now, due] = [at.getTime(), bellEmailDueAt(email, run, reader).at.getTime()];
  if (due < closes.getTime() && now >= closes.getTime()) return "doors_closed";
  const bell = (email.hangsOn === "closing" ? closes : opens).getTime();
  const before = due < bell;
  // Of several emails that lead up to one bell, a later one says it better.
  const next = run.emails.some((other) => {
    if (other.id === email.id || other.hangsOn !== email.hangsOn) return false;
    // One that was moved earlier still stands behind those it was behind.
    const behind = emailDueAt(other, run.window, run.zone) > emailDueAt(email, run.window, run.zone);
    return behind && bellEmailDueAt(other, run, reader).at <= at;
  });
  if (before && next) return "next_is_due";
  if (before && email.hangsOn === "opening" && now >= bell) return "too_late";
  const mayBeLate = before ? Math.max(leastMinutes, (bell - due) / minute / 2) : afterMinutes;
  return now - due > mayBeLate * minute ? "too_late" : undefined;
};

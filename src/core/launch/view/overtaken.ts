import type { LetterSetting } from "../plan/settings";
import type { Window } from "../clock/window";

/** Why an email that hangs on a bell says nothing true any more. */
export type Overtaken = "doors_closed" | "next_is_due" | "too_late";

const minute = 60_000;
/** However little time a letter names, so much it may be late. */
const leastMinutes = 45;
/** A letter about what has happened (doors that opened, doors that closed) may be so late. */
const afterMinutes = 48 * 60;

const dueAt = (letter: Pick<LetterSetting, "hangsOn" | "minutes">, window: Window): number =>
  (letter.hangsOn === "opening" ? window.opens : window.closes).getTime() + letter.minutes * minute;

/**
 * Why a letter must not go at an instant, or undefined where it still says the truth. "Closes in a day" is untrue when
 * half of that day is gone, when the next letter to the same bell is due, and when the doors are closed; a letter about
 * open doors when they are closed; and any letter two days after what it tells of.
 */
export const overtaken = (
  letter: Pick<LetterSetting, "id" | "hangsOn" | "minutes">,
  all: readonly Pick<LetterSetting, "id" | "hangsOn" | "minutes">[],
  window: Window,
  at: Date,
): Overtaken | undefined => {
  const now = at.getTime();
  const due = dueAt(letter, window);
  const closes = window.closes.getTime();
  if (due < closes && now >= closes) return "doors_closed";
  const before = letter.hangsOn === "closing" ? due < closes : due < window.opens.getTime();
  // Of several letters that lead up to one bell, a later one says it better.
  const next = all.some(
    (other) => other.id !== letter.id && other.hangsOn === letter.hangsOn && other.minutes > letter.minutes && dueAt(other, window) <= now,
  );
  if (before && next) return "next_is_due";
  if (before && letter.hangsOn === "opening" && now >= window.opens.getTime()) return "too_late";
  const mayBeLate = before ? Math.max(leastMinutes, -letter.minutes / 2) : afterMinutes;
  return now - due > mayBeLate * minute ? "too_late" : undefined;
};

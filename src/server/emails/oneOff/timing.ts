import type { OneOffTiming } from "../../../core/emails";
import type { OneOffEmail } from "../../../store/tables";

/** When an email that goes once goes; undefined where that was not said yet. */
export const timingOf = ({ at, wall, byZone }: Pick<OneOffEmail, "at" | "wall" | "byZone">): OneOffTiming | undefined =>
  byZone && wall ? { at: null, wall } : at ? { at, wall: null } : undefined;

/** When the copies of an email are looked at that is paused: not before somebody lets it go on, which looks at them at once. */
export const farAway = (now: Date): Date => new Date(now.getTime() + 3_650 * 86_400_000);

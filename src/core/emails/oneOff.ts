import { resolveWallTime } from "../launch";

/** How far an email that goes once is. One has gone when it is sending, was queued for all, and none of them waits any more. */
export const oneOffStates = ["draft", "scheduled", "sending", "paused", "cancelled"] as const;
export type OneOffState = (typeof oneOffStates)[number];

/** What each state may become. Paused, it goes on to where it was; called off, it stays so. */
export const oneOffMayBecome: Readonly<Record<OneOffState, readonly OneOffState[]>> = {
  draft: ["scheduled"],
  scheduled: ["sending", "paused", "cancelled"],
  sending: ["paused", "cancelled"],
  paused: ["scheduled", "sending", "cancelled"],
  cancelled: [],
};

/** When it goes: at an instant to everybody, or at a wall time (`2026-12-03T18:00`) in each reader's own zone. */
export type OneOffTiming = { at: Date; wall: null } | { at: null; wall: string };

/** When it goes to somebody. Throws a RangeError for a wall time that is none. */
export const oneOffDueAt = ({ at, wall }: OneOffTiming, zone: string): Date => {
  if (wall === null) return at;
  const read = resolveWallTime(wall, zone);
  if (!("instant" in read)) throw new RangeError(`not a wall time in ${zone}: ${wall}`);
  return read.instant;
};

/** Where a day begins first: UTC+14 (IANA). */
const firstZone = "Pacific/Kiritimati";

/** When it goes to the first of its readers, wherever they are. */
export const oneOffBegins = (timing: OneOffTiming): Date => oneOffDueAt(timing, firstZone);

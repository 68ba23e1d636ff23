import { Temporal } from "temporal-polyfill";
import type { PersonalClock } from "./settings";
import type { Window } from "./window";

type Length = PersonalClock["length"];

/** When a clock that starts at `start` ends: exactly so long after, or at the first HH:MM (launch's zone) that is at least so long after. */
export const deadlineOf = (length: Length, zone: string, start: Date): Date => {
  const least = start.getTime() + length.minutes * 60_000;
  if (length.kind === "exact") return new Date(least);
  const day = Temporal.Instant.fromEpochMilliseconds(least).toZonedDateTimeISO(zone).toPlainDate();
  const time = Temporal.PlainTime.from(length.time);
  for (let ahead = 0; ; ahead += 1) {
    // A day that the zone skips resolves to the next one, which is later still.
    const at = day.add({ days: ahead }).toZonedDateTime({ timeZone: zone, plainTime: time }).epochMilliseconds;
    if (at >= least) return new Date(at);
  }
};

/**
 * The windows of one person, from every start that was recorded for any identity of theirs. A start counts only where
 * no earlier one was still running and the rest after it is over: the earlier start wins, so that knowing more of a
 * person never lengthens a deadline. At most one window more than the clock may re-arm.
 */
export const personalWindows = (clock: Pick<PersonalClock, "length" | "rearm">, zone: string, starts: readonly Date[]): Window[] => {
  if (starts.length === 0) return [];
  const rest = (clock.rearm?.restMinutes ?? 0) * 60_000;
  const most = 1 + (clock.rearm?.times ?? 0);
  const windows: Window[] = [];
  let busyUntil = -Infinity;
  for (const opens of [...starts].sort((a, b) => a.getTime() - b.getTime())) {
    const closes = deadlineOf(clock.length, zone, opens);
    if (windows.length < most && (windows.length === 0 || opens.getTime() >= busyUntil + rest)) windows.push({ opens, closes });
    busyUntil = Math.max(busyUntil, closes.getTime());
  }
  return windows;
};

/** Whether a trigger at `at` starts the clock (again) for a person with these starts. */
export const mayStart = (clock: Pick<PersonalClock, "length" | "rearm">, zone: string, starts: readonly Date[], at: Date): boolean =>
  personalWindows(clock, zone, [...starts, at]).some(({ opens }) => opens.getTime() === at.getTime());

/** A launch that hands people on to others. */
export interface HandOver {
  launch: string;
  handsTo: string[];
}

/** The launches of a loop of hand-overs that goes through `from`, or undefined. A person in a loop would never be let go. */
export const handOverLoop = (all: readonly HandOver[], from: string): string[] | undefined => {
  const next = new Map(all.map(({ launch, handsTo }) => [launch, handsTo]));
  const walk = (launch: string, path: string[]): string[] | undefined => {
    for (const to of next.get(launch) ?? []) {
      if (to === from) return [...path, to];
      if (path.includes(to)) continue;
      const loop = walk(to, [...path, to]);
      if (loop) return loop;
    }
    return undefined;
  };
  return walk(from, [from]);
};

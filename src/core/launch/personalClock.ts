import { Temporal } from "temporal-polyfill";
import type { PersonalClock } from "./settings";
import type { Window } from "./window";

type Length = PersonalClock["length"];

const dayMs = 86_400_000;
const instants = new Map<string, Map<number, number>>();

// Asked for every person who looks, and the same few days again and again.
const instantOn = (time: string, zone: string, dayNumber: number): number => {
  const key = `${zone} ${time}`;
  let days = instants.get(key);
  if (!days || days.size > 5_000) instants.set(key, (days = new Map<number, number>()));
  let at = days.get(dayNumber);
  if (at === undefined) {
    const day = Temporal.Instant.fromEpochMilliseconds(dayNumber * dayMs)
      .toZonedDateTimeISO("UTC")
      .toPlainDate();
    // A time that the zone skips comes later, a whole day that it skips on the next one (Temporal, `compatible`).
    at = day.toZonedDateTime({ timeZone: zone, plainTime: Temporal.PlainTime.from(time) }).epochMilliseconds;
    days.set(dayNumber, at);
  }
  return at;
};

/** When a clock that starts at `start` ends: exactly so long after, or at the first HH:MM (launch's zone) that is at least so long after. */
export const deadlineOf = (length: Length, zone: string, start: Date): Date => {
  const least = start.getTime() + length.minutes * 60_000;
  if (length.kind === "exact") return new Date(least);
  // The zone's date is that of UTC, or one beside it.
  for (let day = Math.floor(least / dayMs) - 1; ; day += 1) {
    const at = instantOn(length.time, zone, day);
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
  // Most people have one start, and it counts.
  if (starts.length === 1) return [{ opens: starts[0]!, closes: deadlineOf(clock.length, zone, starts[0]!) }];
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

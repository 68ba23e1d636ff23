import { Temporal } from "temporal-polyfill";
import type { PersonalClock } from "../plan/settings";
import { phaseOf, type Window } from "./window";

type Length = PersonalClock["length"];

const dayMs = 86_400_000;
const instants = new Map<string, Map<number, [first: number, last: number]>>();

// Asked for every person who looks, and the same few days again and again.
/** When a zone's wall shows a time on a day: at the same instant first and last, but for the night in which it comes twice. */
const instantsOn = (time: string, zone: string, dayNumber: number): [first: number, last: number] => {
  const key = `${zone} ${time}`;
  let days = instants.get(key);
  if (!days || days.size > 5_000) instants.set(key, (days = new Map<number, [number, number]>()));
  let at = days.get(dayNumber);
  if (at === undefined) {
    const day = Temporal.Instant.fromEpochMilliseconds(dayNumber * dayMs)
      .toZonedDateTimeISO("UTC")
      .toPlainDate();
    const wall = day.toPlainDateTime(Temporal.PlainTime.from(time));
    // A time that the zone skips comes later, a whole day that it skips on the next one (Temporal, `compatible`).
    const first = wall.toZonedDateTime(zone).epochMilliseconds;
    const later = wall.toZonedDateTime(zone, { disambiguation: "later" }).epochMilliseconds;
    const earlier = wall.toZonedDateTime(zone, { disambiguation: "earlier" }).epochMilliseconds;
    // A skipped time has an "earlier" reading that stands at another time on the wall.
    at = [first, earlier === first ? later : first];
    days.set(dayNumber, at);
  }
  return at;
};

/**
 * When a clock that starts at `start` ends: exactly so long after, or at the first HH:MM (launch's zone) that is at least
 * so long after. Where that time comes twice in a night, the second counts as well as the first.
 */
export const deadlineOf = (length: Length, zone: string, start: Date): Date => {
  const least = start.getTime() + length.minutes * 60_000;
  if (length.kind === "exact") return new Date(least);
  // The zone's date is that of UTC, or one beside it.
  for (let day = Math.floor(least / dayMs) - 1; ; day += 1) {
    const at = instantsOn(length.time, zone, day).find((one) => one >= least);
    if (at !== undefined) return new Date(at);
  }
};

/** How long a clock can run at most, in milliseconds: to a time of day it is a day more, or two in a zone that skips one. */
export const longestRun = ({ kind, minutes }: Length): number => minutes * 60_000 + (kind === "exact" ? 0 : 2 * dayMs + 3_600_000);

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

/**
 * The starts that go on counting where two people prove to be one at an instant. Where the doors are open to both, they
 * stay open until the earlier of both ends: the starts of whose clock ends first count alone, with what they used up.
 * Else all starts count, and the earlier one wins.
 */
export const mergedStarts = (
  clock: Pick<PersonalClock, "length" | "rearm">,
  zone: string,
  [a, b]: readonly [readonly Date[], readonly Date[]],
  at: Date,
): readonly Date[] => {
  const openUntil = (starts: readonly Date[]) => personalWindows(clock, zone, starts).find((window) => phaseOf(window, at) === "during")?.closes;
  const [endA, endB] = [openUntil(a), openUntil(b)];
  if (!endA || !endB) return [...a, ...b];
  return endA <= endB ? a : b;
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

import { fullMoment, lengthWords, zoneCity } from "../../words";
import { resolveWallTime, type ResolvedWallTime } from "../clock/wallTime";

/** A sentence when DST bends a wall time, else undefined. */
export const wallTimeRemark = (resolved: ResolvedWallTime, zone: string): string | undefined => {
  const [date, time] = resolved.becomes.split("T");
  if (resolved.status === "gap") return `The clocks in ${zone} skip this time; it becomes ${time} on ${date}.`;
  if (resolved.status === "overlap") return `This time happens twice in ${zone} that day; the first one is meant.`;
  return undefined;
};

const [hour, day] = [60, 1440];
/** A distance as a person would say it: to the minute below six hours, to the hour below ten days, else to the day. */
const roughly = (minutes: number): string => {
  const step = minutes < 6 * hour ? 1 : minutes < 10 * day ? hour : day;
  return lengthWords(Math.round(minutes / step) * step);
};

/** A moment that a typed one is measured against. */
export interface Landmark {
  label: string;
  at: Date;
}

/**
 * What a typed wall time (`YYYY-MM-DDTHH:MM`) means in its zone: the weekday, what DST makes of it, and how far it is
 * from the next of the landmarks. Undefined where it is no wall time.
 */
export const wallTimeWords = (typed: string, zone: string, landmarks: readonly Landmark[] = []): string | undefined => {
  const resolved = resolveWallTime(typed, zone);
  if (!("instant" in resolved)) return undefined;
  const says = wallTimeRemark(resolved, zone) ?? `${fullMoment(resolved.instant, zone)}, ${zoneCity(zone)} time.`;
  const at = resolved.instant.getTime();
  const next = landmarks.filter((one) => one.at.getTime() > at).sort((a, b) => a.at.getTime() - b.at.getTime())[0];
  return next ? `${says} ${next.label}: ${roughly((next.at.getTime() - at) / 60_000)} later.` : says;
};

import { Temporal } from "temporal-polyfill";

/** How a wall time stands in its zone on that day (ECMAScript Temporal, disambiguation `compatible`). */
export type WallTimeStatus = "exact" | "gap" | "overlap";

export interface ResolvedWallTime {
  /** The instant in UTC. */
  instant: Date;
  status: WallTimeStatus;
  /** The wall time that the instant really has, `YYYY-MM-DDTHH:MM`. Differs from what was typed only in a gap. */
  becomes: string;
}

export type WallTimeRefusal = { code: "unknown_zone"; zone: string } | { code: "not_a_wall_time"; typed: string };

// Asking costs far more than remembering, and only real names are remembered.
const zones = new Set<string>();

/** True where the name is an IANA zone known to this runtime. Fixed offsets such as `+01:00` are not zones. */
export const isZone = (zone: string): boolean => {
  if (zones.has(zone)) return true;
  if (!/^[A-Za-z]/.test(zone)) return false;
  try {
    new Intl.DateTimeFormat("en", { timeZone: zone });
    zones.add(zone);
    return true;
  } catch {
    return false;
  }
};

/**
 * Resolves a wall time (`YYYY-MM-DDTHH:MM`) in an IANA zone. A time that DST skips moves later by the gap;
 * a time that happens twice means the earlier one.
 */
export const resolveWallTime = (typed: string, zone: string): ResolvedWallTime | WallTimeRefusal => {
  if (!isZone(zone)) return { code: "unknown_zone", zone };
  if (!/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/.test(typed)) return { code: "not_a_wall_time", typed };
  let wall: Temporal.PlainDateTime;
  try {
    wall = Temporal.PlainDateTime.from(typed, { overflow: "reject" });
  } catch {
    return { code: "not_a_wall_time", typed };
  }
  const earlier = wall.toZonedDateTime(zone, { disambiguation: "earlier" });
  const later = wall.toZonedDateTime(zone, { disambiguation: "later" });
  const resolved = wall.toZonedDateTime(zone, { disambiguation: "compatible" });
  const same = earlier.epochMilliseconds === later.epochMilliseconds;
  const becomes = resolved.toPlainDateTime().toString({ smallestUnit: "minute" });
  const status = same ? "exact" : becomes === typed ? "overlap" : "gap";
  return { instant: new Date(resolved.epochMilliseconds), status, becomes };
};

/** The wall time (`YYYY-MM-DDTHH:MM`) that an instant has in a zone. */
export const wallTimeOf = (instant: Date, zone: string): string =>
  Temporal.Instant.fromEpochMilliseconds(instant.getTime())
    .toZonedDateTimeISO(zone)
    .toPlainDateTime()
    .toString({ smallestUnit: "minute", roundingMode: "floor" });

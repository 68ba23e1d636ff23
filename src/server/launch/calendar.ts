import { ICalCalendar } from "ical-generator";
import { bells } from "../../core/launch";
import type { LaunchContext } from "./launchContext";

const year = 366 * 86_400_000;

/**
 * The bells of a launch as an iCalendar file (RFC 5545): one event a bell, at its instant in UTC, with an identity that
 * stays when the bell is moved. A rule that never ends is listed for a year ahead.
 */
export const bellCalendar = ({ launch, plan }: LaunchContext, origin: string, now: Date): string => {
  const calendar = new ICalCalendar({
    name: `${launch.name}: bells`,
    prodId: { company: "Ink Bell", product: "Bells", language: "EN" },
    timezone: null,
    ttl: 600,
  });
  const range = plan.clock.kind === "recurring" ? { from: new Date(now.getTime() - 30 * 86_400_000), to: new Date(now.getTime() + year) } : undefined;
  for (const bell of bells(plan, {}, range)) {
    if (bell.kind === "grace_end" || bell.kind === "look") continue;
    calendar.createEvent({
      id: `${bell.key}.${launch.id}@${new URL(origin).hostname}`,
      start: bell.at,
      end: bell.at,
      stamp: launch.createdAt,
      sequence: launch.version,
      summary: `${bell.label}: ${launch.name}`,
      url: `${origin}/desk/${launch.slug}/score?at=${bell.at.toISOString()}`,
    });
  }
  return calendar.toString();
};

import { windowFor, type Viewer } from "../clock/viewer";
import type { LaunchPage, LaunchPlan } from "../plan/launch";
import { unlocksAt } from "./episodes";

/** What can be put into a calendar: the opening or the closing of the doors, or an episode, by its page. */
export type CalendarMoment = "opening" | "closing" | (string & {});

/** An entry of somebody's calendar. */
export interface CalendarEntry {
  /** The same however it is moved. */
  key: string;
  starts: Date;
  ends: Date;
  /** The episode's page; none for a bell. */
  page?: LaunchPage;
}

/** What somebody may put into their calendar; undefined where it has no instant for them: their clock has not started, or an episode is open from the start. */
export const calendarEntry = (plan: LaunchPlan, of: CalendarMoment, who: Viewer, at: Date): CalendarEntry | undefined => {
  const window = windowFor(plan, who, at);
  if (of === "opening" || of === "closing") {
    const instant = of === "opening" ? window?.opens : window?.closes;
    return instant && { key: of, starts: instant, ends: instant };
  }
  const episode = plan.episodes.find(({ page }) => page.key === of);
  if (!episode) return undefined;
  const { page, live } = episode;
  if (live) return { key: `live.${episode.id}`, starts: live.starts, ends: live.ends, page };
  const opens = unlocksAt(plan, episode.unlock, who, window).at;
  return opens && { key: `episode.${episode.id}`, starts: opens, ends: opens, page };
};

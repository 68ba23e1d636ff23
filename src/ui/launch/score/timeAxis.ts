import { scaleUtc } from "d3";
import { windowsFor, type LaunchPlan, type Viewer } from "../../../core/launch";

export const hour = 3_600_000;
export const day = 24 * hour;
/** Where the drawing begins, right of the lanes' names. */
export const laneLeft = 104;

export const zooms = [
  { key: "all", label: "Whole launch", ms: undefined, step: 15 * 60_000 },
  { key: "3d", label: "3 days", ms: 3 * day, step: 15 * 60_000 },
  { key: "12h", label: "12 hours", ms: 12 * hour, step: 5 * 60_000 },
  { key: "1h", label: "1 hour", ms: hour, step: 60_000 },
] as const;
export type Zoom = (typeof zooms)[number];

/** The span of a whole launch for a person: the run-up (at most its last ten days) to a little after the last bell; of a clock that repeats, the weeks around `now`. */
export const scoreRange = (plan: LaunchPlan, who: Viewer, now: number): [Date, Date] => {
  const grace = plan.settings.graceMinutes * 60_000;
  const padded = (from: number, to: number): [Date, Date] => {
    const air = (to - from) * 0.07;
    return [new Date(from - air * 0.4), new Date(to + air)];
  };
  if (plan.clock.kind === "fixed") {
    const { runUp, window } = plan.clock;
    const end = window.closes.getTime() + grace;
    // Emails may go out before the run-up, and after the doors have closed.
    return padded(Math.max(runUp.getTime(), window.opens.getTime() - 10 * day), Math.max(end, Math.min(now, end + 2 * day)));
  }
  if (plan.clock.kind === "recurring") {
    const windows = windowsFor(plan, who, new Date(now - 9 * day), new Date(now + 60 * day)).slice(0, 4);
    return padded(Math.min(now - day, windows[0]?.opens.getTime() ?? now), Math.max(now + day, (windows.at(-1)?.closes.getTime() ?? now) + grace));
  }
  const windows = windowsFor(plan, who, new Date(now - 400 * day), new Date(now + 400 * day));
  const newest = windows.at(-1);
  return newest ? padded(newest.opens.getTime() - 6 * hour, newest.closes.getTime() + grace) : [new Date(now - day), new Date(now + 3 * day)];
};

export const timeScale = (from: Date, to: Date, width: number) => scaleUtc([from, to], [laneLeft, width - 8]);

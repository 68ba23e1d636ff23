import { scaleUtc } from "d3";
import { wallTimeOf, windowsFor, type LaunchPlan, type Viewer } from "../../../core/launch";
import { shortMoment } from "../../../core/words";

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

export interface Tick {
  at: Date;
  label: string;
}

/** Marks of the axis at whole days, hours or minutes of the launch's zone, as many as there is room for. */
export const axisTicks = (from: Date, to: Date, zone: string, room: number): Tick[] => {
  const most = Math.max(2, Math.floor(room / 66));
  const span = to.getTime() - from.getTime();
  const minute = 60_000;
  const step = [5 * minute, 10 * minute, 15 * minute, 30 * minute, hour, 2 * hour, 6 * hour, 12 * hour, day].find((ms) => span / ms <= most) ?? day;
  // Zones stand up to a quarter of an hour askew; finer than that nothing is asked.
  const grain = Math.min(step, 15 * minute);
  const fits = (at: Date) => {
    const wall = wallTimeOf(at, zone);
    const minutes = Number(wall.slice(11, 13)) * 60 + Number(wall.slice(14, 16));
    return minutes % (step / minute) === 0;
  };
  const ticks: Tick[] = [];
  // The next mark is a step away, give or take the hour by which a zone's clocks may be put on or back.
  // Of a span of years only so many days are marked as there is room for, times the lines between two labels.
  const sparse = Math.floor(span / (most * 12 * day)) * day;
  const leap = Math.max(grain, step - hour, sparse - hour);
  let [next, missed] = [grain, 0];
  for (let ms = Math.ceil(from.getTime() / grain) * grain; ms <= to.getTime(); ms += next) {
    const at = new Date(ms);
    // Before zones there was local mean time, askew by minutes: where nothing fits within a step, there is no mark.
    missed += 1;
    next = missed > (2 * step) / grain ? leap : grain;
    if (next === leap) missed = 0;
    if (!fits(at)) continue;
    next = leap;
    missed = 0;
    const [date = "", time = ""] = shortMoment(at, zone).split(", ").slice(-2);
    ticks.push({ at, label: time === "00:00" ? date.replace(/ \w+$/, "") : time });
  }
  const every = Math.ceil(ticks.length / most);
  return ticks.map((tick, index) => (index % every === 0 ? tick : { ...tick, label: "" }));
};

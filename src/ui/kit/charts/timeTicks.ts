import { wallTimeOf } from "../../../core/launch";
import { shortMoment } from "../../../core/words";

const hour = 3_600_000;
const day = 24 * hour;

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

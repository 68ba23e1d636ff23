import { RRuleTemporal } from "rrule-temporal";
import { toText } from "rrule-temporal/totext";
import { Temporal } from "temporal-polyfill";
import { rulePartRefusal, type RulePartRefusal } from "./ruleParts";
import { isZone, resolveWallTime, wallTimeOf } from "./wallTime";
import type { Window } from "./window";

/** A recurring window: every occurrence of the rule opens the doors for a length of time. */
export interface Recurrence {
  /** First wall time, `YYYY-MM-DDTHH:MM`. */
  first: string;
  /** RFC 5545 recurrence rule, without its name. */
  rule: string;
  lengthMinutes: number;
  zone: string;
}

export type RecurrenceRefusal =
  | { code: "not_a_rule"; typed: string }
  | RulePartRefusal
  | { code: "too_often"; typed: string }
  | { code: "first_out_of_range"; from: number; to: number }
  | { code: "never_occurs" }
  | { code: "windows_overlap"; at: Date; gapMinutes: number };

const basic = (wall: string) => `${wall.replace(/[-:]/g, "")}00`;
const until = /;?UNTIL=([^;]+)/i;

/**
 * The rule on the wall, as if every day had its 24 hours: a time that the zone skips is then moved like any other wall
 * time, where the zone's own expansion would leave the opening out. An UNTIL is an instant and is judged afterwards.
 */
const parse = ({ first, rule }: Pick<Recurrence, "first" | "rule">): RRuleTemporal =>
  new RRuleTemporal({ rruleString: `DTSTART;TZID=UTC:${basic(first)}\nRRULE:${rule.replace(until, "")}`, maxIterations: 100_000, cache: false });

/** The last instant that a rule's UNTIL admits: in UTC, or a wall time or whole day of the zone; without one, none is too late. */
const lastInstant = ({ rule, zone }: Recurrence): number => {
  const text = until.exec(rule)?.[1];
  if (!text) return Infinity;
  const match = /^(\d{4})(\d{2})(\d{2})(?:T(\d{2})(\d{2})(\d{2})(Z)?)?$/i.exec(text);
  if (!match) throw new RangeError(`UNTIL=${text} is no date of RFC 5545`);
  const [, year, month, day, hour = "23", minute = "59", second = "59", utc] = match;
  if (utc) return Date.parse(`${year}-${month}-${day}T${hour}:${minute}:${second}Z`);
  const resolved = resolveWallTime(`${year}-${month}-${day}T${hour}:${minute}`, zone);
  if (!("instant" in resolved)) throw new RangeError(`UNTIL=${text} is no wall time`);
  return resolved.instant.getTime() + Number(second) * 1000;
};

interface Known {
  rule: RRuleTemporal;
  last: number;
  starts: number[];
  /** Occurrences are known up to here, in epoch milliseconds. */
  upTo: number;
  finished: boolean;
}
const known = new Map<string, Known>();
const dayMs = 86_400_000;
const year = 366 * dayMs;

// Expanding a rule costs thousands of times more than looking an occurrence up, and every public page looks one up.
const expanded = (recurrence: Recurrence, upTo: number): Known => {
  const key = `${recurrence.zone}|${recurrence.first}|${recurrence.rule}`;
  let entry = known.get(key);
  if (!entry) {
    if (known.size > 500) known.clear();
    const opens = resolveWallTime(recurrence.first, recurrence.zone);
    const from = "instant" in opens ? opens.instant.getTime() : 0;
    known.set(key, (entry = { rule: parse(recurrence), last: lastInstant(recurrence), starts: [], upTo: from - 1, finished: false }));
  }
  if (entry.finished || entry.upTo >= upTo) return entry;
  const to = upTo + 2 * year;
  // A day wider on either side: the wall and the instant stand up to that far apart.
  const walls = entry.rule.between(new Date(entry.upTo - dayMs), new Date(to + dayMs), true);
  for (const at of walls) {
    const resolved = resolveWallTime(at.toPlainDateTime().toString({ smallestUnit: "minute" }), recurrence.zone);
    if (!("instant" in resolved)) continue;
    const ms = resolved.instant.getTime();
    if (ms > (entry.starts.at(-1) ?? -Infinity) && ms <= entry.last) entry.starts.push(ms);
  }
  entry.upTo = to;
  const { count } = entry.rule.options();
  entry.finished = (count !== undefined && entry.starts.length >= count) || to > entry.last;
  return entry;
};

const windowFrom = (start: number, lengthMinutes: number): Window => ({ opens: new Date(start), closes: new Date(start + lengthMinutes * 60_000) });

/** How far ahead an opening is looked for: 29 February is never further apart. */
const horizon = 8 * year + 2 * dayMs;
/** Starts up to an instant, whatever else has been asked of the rule before. */
const startsUpTo = (recurrence: Recurrence, upTo: number): number[] => {
  const { starts } = expanded(recurrence, upTo);
  return (starts.at(-1) ?? -Infinity) <= upTo ? starts : starts.filter((start) => start <= upTo);
};

/** The windows of a recurrence that touch `[from, to)`, in order. */
export const windowsBetween = (recurrence: Recurrence, from: Date, to: Date): Window[] => {
  const length = recurrence.lengthMinutes * 60_000;
  return expanded(recurrence, to.getTime())
    .starts.filter((start) => start < to.getTime() && start + length > from.getTime())
    .map((start) => windowFrom(start, recurrence.lengthMinutes));
};

/** The window that is open at an instant, else the next one, else the last one that was. */
export const windowAround = (recurrence: Recurrence, at: Date): Window | undefined => {
  const now = at.getTime();
  const length = recurrence.lengthMinutes * 60_000;
  // Mostly the next one is near, and only what is near need be known.
  for (const ahead of [year, horizon]) {
    const { starts } = expanded(recurrence, now + ahead);
    let [low, high] = [0, starts.length];
    // The first start whose window has not closed yet.
    while (low < high) {
      const middle = (low + high) >> 1;
      if (starts[middle]! + length > now) high = middle;
      else low = middle + 1;
    }
    const start = starts[low];
    if (start !== undefined && start <= now + ahead) return windowFrom(start, recurrence.lengthMinutes);
    if (ahead === horizon && low > 0) return windowFrom(starts[low - 1]!, recurrence.lengthMinutes);
  }
  return undefined;
};

/** The first openings from `from` on, at most `n`, within eight years of it or of the first of all. */
export const nextOpenings = (recurrence: Recurrence, from: Date, n: number): Date[] => {
  const opens = resolveWallTime(recurrence.first, recurrence.zone);
  const first = "instant" in opens ? opens.instant.getTime() : -Infinity;
  return startsUpTo(recurrence, Math.max(first, from.getTime()) + horizon)
    .filter((start) => start >= from.getTime())
    .slice(0, n)
    .map((start) => new Date(start));
};

/** Years in which a first opening may lie: every one since then is counted. */
const firstYears = { from: 1990, to: 2199 };

/** What is wrong with a recurrence, or undefined: a part of the rule, its first date, more often than daily, or windows that would overlap. */
export const recurrenceRefusal = (recurrence: Recurrence): RecurrenceRefusal | undefined => {
  const typed = recurrence.rule;
  if (!isZone(recurrence.zone)) return { code: "not_a_rule", typed };
  if (/FREQ=(HOURLY|MINUTELY|SECONDLY)|BY(HOUR|MINUTE|SECOND)=/i.test(typed)) return { code: "too_often", typed };
  const wrong = rulePartRefusal(typed);
  if (wrong) return wrong;
  const first = resolveWallTime(recurrence.first, recurrence.zone);
  if (!("instant" in first)) return { code: "not_a_rule", typed };
  const firstYear = Number(recurrence.first.slice(0, 4));
  if (firstYear < firstYears.from || firstYear > firstYears.to) return { code: "first_out_of_range", ...firstYears };
  let starts: number[];
  try {
    starts = startsUpTo(recurrence, first.instant.getTime() + horizon);
  } catch {
    return { code: "not_a_rule", typed };
  }
  if (starts.length === 0) return { code: "never_occurs" };
  for (let i = 1; i < starts.length; i += 1) {
    const gap = starts[i]! - starts[i - 1]!;
    if (gap < recurrence.lengthMinutes * 60_000) return { code: "windows_overlap", at: new Date(starts[i]!), gapMinutes: gap / 60_000 };
  }
  return undefined;
};

/** A recurrence in plain English: `every week on Monday`. */
export const recurrenceWords = (recurrence: Recurrence): string => {
  const last = lastInstant(recurrence);
  const end = last === Infinity ? "" : `, until ${wallTimeOf(new Date(last), recurrence.zone).replace("T", " ")}`;
  return toText(parse(recurrence), "en", { excludeTzAbbreviation: true }) + end;
};

const weekdays = ["MO", "TU", "WE", "TH", "FR", "SA", "SU"] as const;
export type Weekday = (typeof weekdays)[number];

/** A rule as the desk edits it. */
export interface RuleParts {
  every: number;
  unit: "week" | "month_day" | "month_weekday";
  /** Days of the week, for `week`. */
  days: Weekday[];
  /** Ends after so many openings; null is never. */
  times: number | null;
}

/** The RFC 5545 rule of plain parts; the day of the month or its weekday is that of the first opening. */
export const ruleOf = ({ every, unit, days, times }: RuleParts, first: string): string => {
  const day = Temporal.PlainDate.from(first.slice(0, 10));
  const interval = every > 1 ? `;INTERVAL=${every}` : "";
  const count = times ? `;COUNT=${times}` : "";
  if (unit === "week") {
    const named = weekdays.filter((name) => days.includes(name));
    return `FREQ=WEEKLY${interval};BYDAY=${(named.length ? named : [weekdays[day.dayOfWeek - 1]!]).join(",")}${count}`;
  }
  if (unit === "month_day") return `FREQ=MONTHLY${interval};BYMONTHDAY=${day.day}${count}`;
  // The fifth Friday is missing in most months; who says so means the last.
  const nth = Math.ceil(day.day / 7);
  return `FREQ=MONTHLY${interval};BYDAY=${nth === 5 ? -1 : nth}${weekdays[day.dayOfWeek - 1]!}${count}`;
};

/** The parts of a rule that `ruleOf` made; undefined for a rule that says more than they can. */
export const partsOf = (rule: string): RuleParts | undefined => {
  const match = /^FREQ=(WEEKLY|MONTHLY)(?:;INTERVAL=(\d+))?;(BYDAY|BYMONTHDAY)=([\w,-]+)(?:;COUNT=(\d+))?$/.exec(rule);
  if (!match) return undefined;
  const [, frequency, every, by, value, times] = match;
  const rest = { every: Number(every ?? 1), times: times ? Number(times) : null };
  if (frequency === "WEEKLY")
    return by === "BYDAY" && /^[A-Z,]+$/.test(value!) ? { ...rest, unit: "week", days: value!.split(",") as Weekday[] } : undefined;
  if (by === "BYMONTHDAY") return /^\d+$/.test(value!) ? { ...rest, unit: "month_day", days: [] } : undefined;
  return /^(-1|[1-4])[A-Z]{2}$/.test(value!) ? { ...rest, unit: "month_weekday", days: [] } : undefined;
};

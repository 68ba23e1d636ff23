/** What is wrong with one part of a recurrence rule (RFC 5545 §3.3.10), by its name. */
export type RulePartRefusal =
  | { code: "part_unknown"; part: string }
  | { code: "part_twice"; part: string }
  | { code: "part_wrong"; part: string; value: string }
  /** Two parts that the standard does not allow together, or one without what it needs. */
  | { code: "parts_clash"; part: string; with: string };

const frequencies = ["DAILY", "WEEKLY", "MONTHLY", "YEARLY"];
const weekdayNames = /^(MO|TU|WE|TH|FR|SA|SU)$/;

/** Whole numbers from `-most` to `most` without zero, with commas between. */
const numbers =
  (most: number, signed = true) =>
  (value: string) =>
    value.split(",").every((one) => {
      if (!(signed ? /^[+-]?\d{1,3}$/ : /^\d{1,3}$/).test(one)) return false;
      const size = Math.abs(Number(one));
      return size >= 1 && size <= most;
    });

const isUntil = (value: string): boolean => {
  const match = /^(\d{4})(\d{2})(\d{2})(?:T([01]\d|2[0-3])([0-5]\d)([0-5]\d)Z?)?$/.exec(value);
  if (!match) return false;
  const [year, month, day] = match.slice(1, 4).map(Number) as [number, number, number];
  const date = new Date(Date.UTC(year, month - 1, day));
  return date.getUTCMonth() === month - 1 && date.getUTCDate() === day;
};

/** The parts of a rule that are understood, each with what it may be. */
const parts: Record<string, ((value: string) => boolean) | undefined> = {
  FREQ: (value) => frequencies.includes(value),
  UNTIL: isUntil,
  COUNT: (value) => /^\d{1,4}$/.test(value) && Number(value) >= 1,
  INTERVAL: (value) => /^\d{1,3}$/.test(value) && Number(value) >= 1,
  BYDAY: (value) =>
    value.split(",").every((one) => {
      const match = /^([+-]?\d{1,2})?([A-Z]{2})$/.exec(one);
      const nth = Math.abs(Number(match?.[1] ?? 1));
      return match !== null && weekdayNames.test(match[2]!) && nth >= 1 && nth <= 53;
    }),
  BYMONTHDAY: numbers(31),
  BYYEARDAY: numbers(366),
  BYWEEKNO: numbers(53),
  BYMONTH: numbers(12, false),
  BYSETPOS: numbers(366),
  WKST: (value) => weekdayNames.test(value),
};

/** Frequencies with which the standard does not allow a part. */
const never: Record<string, string[] | undefined> = {
  BYWEEKNO: ["DAILY", "WEEKLY", "MONTHLY"],
  BYYEARDAY: ["DAILY", "WEEKLY", "MONTHLY"],
  BYMONTHDAY: ["WEEKLY"],
};

/** What is wrong with a rule by its parts alone; undefined where each is one of RFC 5545 and they go together. */
export const rulePartRefusal = (rule: string): RulePartRefusal | undefined => {
  const found = new Map<string, string>();
  for (const text of rule.toUpperCase().split(";")) {
    const [part = "", value = "", ...more] = text.split("=");
    const fits = Object.hasOwn(parts, part) ? parts[part] : undefined;
    if (!fits) return { code: "part_unknown", part: part || text };
    if (found.has(part)) return { code: "part_twice", part };
    if (more.length > 0 || !fits(value)) return { code: "part_wrong", part, value };
    found.set(part, value);
  }
  const frequency = found.get("FREQ");
  if (!frequency) return { code: "parts_clash", part: "FREQ", with: "" };
  if (found.has("COUNT") && found.has("UNTIL")) return { code: "parts_clash", part: "COUNT", with: "UNTIL" };
  for (const [part, without] of Object.entries(never))
    if (found.has(part) && without?.includes(frequency)) return { code: "parts_clash", part, with: `FREQ=${frequency}` };
  const days = found.get("BYDAY");
  if (days && /\d/.test(days)) {
    if (frequency === "DAILY" || frequency === "WEEKLY") return { code: "parts_clash", part: "BYDAY", with: `FREQ=${frequency}` };
    if (found.has("BYWEEKNO")) return { code: "parts_clash", part: "BYDAY", with: "BYWEEKNO" };
    const mostInMonth = frequency === "MONTHLY" && days.split(",").some((one) => Math.abs(Number.parseInt(one, 10) || 1) > 5);
    if (mostInMonth) return { code: "part_wrong", part: "BYDAY", value: days };
  }
  if (found.has("BYSETPOS") && ![...found.keys()].some((part) => part.startsWith("BY") && part !== "BYSETPOS"))
    return { code: "parts_clash", part: "BYSETPOS", with: "" };
  return undefined;
};

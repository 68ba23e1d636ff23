import { type Fault, type PlainFaultCode } from "../../words";
import { transliterate } from "transliteration";
import { z } from "zod";
import { currencies, readAmount, type Locale } from "../../money";
import { settingFaults } from "./check";
import { daysBefore, plannedPages, initialSettings, usualSubjects, type PlannedPage } from "./layout";
import { launchShapes, type LaunchSource } from "./launch";
import { ruleOf, type RuleParts } from "../clock/recurrence";
import { timeOfDay, type ClockSettings, type LaunchSettings } from "./settings";
import { isZone, resolveWallTime, type ResolvedWallTime } from "../clock/wallTime";
import { wallTimeRemark } from "../view/wallTimeWords";

const weekday = z.enum(["MO", "TU", "WE", "TH", "FR", "SA", "SU"]);

/** What the desk sends to start a launch. Fields of another kind of clock are not looked at. */
export const newLaunchRequest = z.object({
  // What is missing is said with all the rest, by `planNewLaunch`.
  name: z.string().trim(),
  zone: z.string().trim(),
  shape: z.enum(launchShapes).default("full"),
  clock: z.enum(["fixed", "recurring", "personal"]).default("fixed"),
  opensWall: z.string().default(""),
  closesWall: z.string().default(""),
  repeats: z
    .object({
      every: z.coerce.number().catch(Number.NaN),
      unit: z.enum(["week", "month_day", "month_weekday"]),
      days: z.array(weekday),
      times: z.coerce.number().int().nullable().catch(null),
    })
    .default({ every: 1, unit: "week", days: [], times: null }),
  openHours: z.coerce.number().catch(Number.NaN).default(72),
  personHours: z.coerce.number().catch(Number.NaN).default(72),
  personUntil: z.string().default(""),
  trigger: z.enum(["opt_in", "first_visit", "webhook"]).default("opt_in"),
  /** What is sold and for how much; a launch that only collects addresses sells nothing yet. */
  productName: z.string().trim().default(""),
  price: z.string().trim().default(""),
  currency: z.string(),
  taxMode: z.enum(["inclusive", "exclusive"]),
});
export type NewLaunchRequest = z.infer<typeof newLaunchRequest>;

type NewLaunchFaults = Partial<Record<keyof NewLaunchRequest, Fault>>;
export interface NewLaunchPlan {
  settings: LaunchSettings;
  pages: PlannedPage[];
  /** None where nothing is sold yet. */
  priceMinor: number;
  /** Wall times that DST bends, with what they become. */
  remarks: string[];
}

/** The recurrence of a request. */
export const requestedRule = ({ repeats, opensWall }: Pick<NewLaunchRequest, "repeats" | "opensWall">): string =>
  ruleOf({ ...repeats, times: repeats.times || null } satisfies RuleParts, opensWall);

/** Checks the parts of a new launch against each other and the clock rules, and lays it out. Answers the plan, or what is wrong, field by field. */
export const planNewLaunch = (request: NewLaunchRequest, locale?: Locale): { plan: NewLaunchPlan } | { faults: NewLaunchFaults } => {
  const faults: NewLaunchFaults = {};
  const remarks: string[] = [];
  if (!isZone(request.zone)) faults.zone = { code: "zone", typed: request.zone };
  const moment = (field: "opensWall" | "closesWall"): ResolvedWallTime | undefined => {
    if (faults.zone) return undefined;
    const resolved = resolveWallTime(request[field], request.zone);
    if ("instant" in resolved) {
      const remark = wallTimeRemark(resolved, request.zone);
      if (remark) remarks.push(remark);
      return resolved;
    }
    faults[field] = { code: "moment" };
    return undefined;
  };
  const positive = (field: "openHours" | "personHours") => {
    if (!(request[field] > 0 && request[field] <= 8760)) faults[field] = { code: "hours" };
    return Math.round(request[field] * 60);
  };
  const clockOf = (): ClockSettings | undefined => {
    if (request.clock === "personal") {
      const minutes = positive("personHours");
      if (request.personUntil && !timeOfDay.safeParse(request.personUntil).success) faults.personUntil = { code: "time_of_day" };
      return {
        kind: "personal",
        trigger: request.trigger === "opt_in" ? { on: "opt_in", page: null } : { on: request.trigger },
        length: request.personUntil ? { kind: "until", minutes, time: request.personUntil } : { kind: "exact", minutes },
        rearm: null,
      };
    }
    const opens = moment("opensWall");
    if (request.clock === "recurring") {
      const lengthMinutes = positive("openHours");
      if (!(request.repeats.every >= 1 && request.repeats.every <= 52)) faults.repeats = { code: "every_weeks" };
      return opens && !faults.repeats ? { kind: "recurring", first: opens.becomes, rule: requestedRule(request), lengthMinutes } : undefined;
    }
    const closes = moment("closesWall");
    if (opens && closes && closes.instant <= opens.instant) faults.closesWall = { code: "closes_first" };
    return opens && closes
      ? { kind: "fixed", runUp: daysBefore(opens.becomes, request.shape === "short" ? 2 : 7), opens: opens.becomes, closes: closes.becomes }
      : undefined;
  };
  const clock = clockOf();
  const named = (field: "name" | "productName", missing: PlainFaultCode) => {
    if (request[field] === "") faults[field] = { code: missing };
    else if (request[field].length > 120) faults[field] = { code: "too_long", most: 120 };
  };
  named("name", "launch_name_missing");
  if (!faults.name && slugOf(request.name) === "") faults.name = { code: "launch_name_address" };
  if (!currencies.includes(request.currency)) faults.currency = { code: "currency_missing" };
  const sells = request.shape !== "list";
  if (sells) named("productName", "product_name_missing");
  const read = sells && !faults.currency ? readAmount(request.price, request.currency, locale) : 0;
  const priceMinor = typeof read === "number" ? read : 0;
  if (typeof read === "object") faults.price = { code: "amount", refusal: read, currency: request.currency };
  else if (sells && priceMinor === 0 && !faults.currency) faults.price = { code: "above_zero", currency: request.currency, example: 14_900 };
  if (!clock || faults.zone) return { faults };
  const pages = plannedPages(request.shape);
  const settings = initialSettings(request.shape, clock);
  const wrong = settingFaults({
    slug: "new",
    name: request.name,
    zone: request.zone,
    shape: request.shape,
    settings,
    pages: pages.map((page) => ({ ...page, title: "", published: false })),
    subjects: {},
    price: { minor: priceMinor, currency: request.currency },
  });
  const fields: Record<string, keyof NewLaunchRequest> = {
    "clock.closes": "closesWall",
    "clock.lengthMinutes": "openHours",
    "clock.rule": "repeats",
    "clock.length.minutes": "personHours",
  };
  for (const [path, fault] of Object.entries(wrong)) faults[fields[path] ?? "opensWall"] ??= fault;
  return Object.keys(faults).length > 0 ? { faults } : { plan: { settings, pages, priceMinor, remarks } };
};

/**
 * The launch that a request would start, for it to be drawn while it is filled in: what is not said yet has a stand-in, and a price that is
 * not known is zero. Undefined as long as its time is not known, or cannot be.
 */
export const drawnLaunch = (request: NewLaunchRequest, locale?: Locale): LaunchSource | undefined => {
  const price = readAmount(request.price, request.currency, locale);
  const known = typeof price === "number" && price > 0;
  const named = slugOf(request.name) === "" ? "Your launch" : request.name.slice(0, 120);
  const answer = planNewLaunch({ ...request, name: named, productName: named, price: known ? request.price : "1" }, locale);
  if ("faults" in answer) return undefined;
  const { settings, pages, priceMinor } = answer.plan;
  return {
    slug: slugOf(named),
    name: named,
    zone: request.zone,
    shape: request.shape,
    settings,
    pages: pages.map((page) => ({ ...page, title: page.episode === undefined ? "" : `episode ${page.episode}`, published: true })),
    subjects: usualSubjects(settings.emails, named),
    price: { minor: known ? priceMinor : 0, currency: request.currency },
  };
};

/** An address made from a name: lower case, ASCII letters, digits and single hyphens, whatever its script; empty where it has no letter and no digit. */
export const slugOf = (name: string): string =>
  transliterate(name)
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .slice(0, 60)
    .replace(/^-+|-+$/g, "");

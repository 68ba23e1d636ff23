import { z } from "zod";
import { currencies, parseAmount } from "../money";
import { resolveWallTime, type ResolvedWallTime } from "./wallTime";

/** What the desk sends to start a launch. */
export const newLaunchRequest = z.object({
  name: z.string().trim().min(1, "Give the launch a name.").max(120, "120 characters at most."),
  zone: z.string().trim(),
  opensWall: z.string(),
  closesWall: z.string(),
  productName: z.string().trim().min(1, "Name what is sold, as the buyer will read it.").max(120, "120 characters at most."),
  price: z.string().trim(),
  currency: z.string(),
  taxMode: z.enum(["inclusive", "exclusive"]),
});
export type NewLaunchRequest = z.infer<typeof newLaunchRequest>;

export type FieldErrors = Partial<Record<keyof NewLaunchRequest, string>>;
export interface NewLaunchPlan {
  opens: ResolvedWallTime;
  closes: ResolvedWallTime;
  priceMinor: number;
}

/** Checks the parts of a new launch against each other and the clock rules. Answers the plan, or a sentence per field. */
export const planNewLaunch = (request: NewLaunchRequest): { plan: NewLaunchPlan } | { errors: FieldErrors } => {
  const errors: FieldErrors = {};
  const resolve = (field: "opensWall" | "closesWall") => {
    const resolved = resolveWallTime(request[field], request.zone);
    if ("instant" in resolved) return resolved;
    if (resolved.code === "unknown_zone") errors.zone = `“${request.zone}” is not a time zone of the IANA database, such as Europe/Lisbon.`;
    else errors[field] = "Give a date and a time, such as 27 November 2026, 18:00.";
    return undefined;
  };
  const opens = resolve("opensWall");
  const closes = resolve("closesWall");
  if (opens && closes && closes.instant <= opens.instant) errors.closesWall = "The closing bell must ring after the opening bell.";
  if (!currencies.includes(request.currency)) errors.currency = "Choose a currency from the list.";
  const priceMinor = errors.currency ? undefined : parseAmount(request.price, request.currency);
  if (!errors.currency && (priceMinor === undefined || priceMinor <= 0)) errors.price = "Give an amount above zero, such as 149.00.";
  if (Object.keys(errors).length > 0 || !opens || !closes || !priceMinor) return { errors };
  return { plan: { opens, closes, priceMinor } };
};

/** A sentence when DST bends a wall time, else undefined. */
export const wallTimeRemark = (resolved: ResolvedWallTime, zone: string): string | undefined => {
  const [date, time] = resolved.becomes.split("T");
  if (resolved.standing === "gap") return `The clocks in ${zone} skip this time; it becomes ${time} on ${date}.`;
  if (resolved.standing === "overlap") return `This time happens twice in ${zone} that day; the first one is meant.`;
  return undefined;
};

/** An address made from a name: lower case, ASCII letters, digits and single hyphens. */
export const slugOf = (name: string): string =>
  name
    .normalize("NFKD")
    .replace(/\p{M}/gu, "")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 60) || "launch";

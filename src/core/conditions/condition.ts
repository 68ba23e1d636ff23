import { fault } from "../words";
import { z } from "zod";
import { devices, eventData, type EventKind } from "../events";
import { currencies } from "../money";
import { isPattern } from "./pattern";

/** How a text is asked for: the whole, a part, its beginning, or a pattern (see `isPattern`). Capitals count. */
export const textTest = z
  .strictObject({ is: z.enum(["equals", "contains", "starts", "matches"]), text: z.string().min(1).max(120) })
  .refine(({ is, text }) => is !== "matches" || isPattern(text), { path: ["text"], message: fault("pattern") });
export type TextTest = z.infer<typeof textTest>;

export const eventKinds = Object.keys(eventData) as EventKind[];
/** How far back a condition may look, in days. */
export const mostDays = 540;
/** How often something may be asked for at most. */
export const mostTimes = 1_000;

const did = z.strictObject({
  did: z.enum(eventKinds),
  launch: z.uuid().optional(),
  page: textTest.optional(),
  product: z.uuid().optional(),
  step: z.uuid().optional(),
  /** Today and so many days before it, less one (UTC). */
  withinDays: z.number().int().min(1).max(mostDays).optional(),
  /** At least so often; once, where it is left out. */
  times: z.number().int().min(2).max(mostTimes).optional(),
});
export type Did = z.infer<typeof did>;

/** What is asked of one person, by what they did and where they came from. */
export type Condition =
  | { all: Condition[] }
  | { any: Condition[] }
  | { none: Condition[] }
  | Did
  | { country: string[] }
  | { source: TextTest }
  | { device: (typeof devices)[number] }
  /** The partner whose link led them here first; null for any. */
  | { partner: string | null }
  | { tag: string }
  /** What they answered to a question of the vendor's own, by its words. */
  | { answered: { question: string; text: TextTest } }
  /** They agreed to emails and have not unsubscribed since. */
  | { mayWrite: true }
  /** All that they paid, tax included, in minor units of one currency. */
  | { spent: { minor: number; currency: string } };

const several = () => z.array(condition).min(1).max(20);

/** The deepest that groups may stand inside of one another. */
export const deepest = 6;
const depth = (one: Condition): number => {
  const parts = partsOf(one);
  return parts ? 1 + Math.max(...parts.map(depth)) : 0;
};

const anyDepth: z.ZodType<Condition> = z.union([
  z.strictObject({
    get all() {
      return several();
    },
  }),
  z.strictObject({
    get any() {
      return several();
    },
  }),
  z.strictObject({
    get none() {
      return several();
    },
  }),
  did,
  z.strictObject({
    country: z
      .array(z.string().regex(/^[A-Z]{2}$/))
      .min(1)
      .max(60),
  }),
  z.strictObject({ source: textTest }),
  z.strictObject({ device: z.enum(devices) }),
  z.strictObject({ partner: z.uuid().nullable() }),
  z.strictObject({ tag: z.string().min(1).max(60) }),
  z.strictObject({ answered: z.strictObject({ question: z.string().min(1).max(200), text: textTest }) }),
  z.strictObject({ mayWrite: z.literal(true) }),
  z.strictObject({ spent: z.strictObject({ minor: z.number().int().min(1).max(1e12), currency: z.enum(currencies) }) }),
]);

/** A condition as it is kept and sent. */
export const condition: z.ZodType<Condition> = z.lazy(() => anyDepth);
/** A whole condition, whose groups are not nested too deep to be read. */
export const wholeCondition = condition.refine((one) => depth(one) <= deepest, fault("groups_deep"));

/** The conditions of a group; undefined for one that is none. */
export const partsOf = (one: Condition): Condition[] | undefined =>
  "all" in one ? one.all : "any" in one ? one.any : "none" in one ? one.none : undefined;

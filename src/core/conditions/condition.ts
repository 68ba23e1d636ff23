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

/** What may have become of an email that went to somebody. What was opened is what its pictures were fetched of, which programs do as well. */
export const mailDeeds = ["sent", "opened", "clicked", "left", "bounced", "complained"] as const;
export type MailDeed = (typeof mailDeeds)[number];

/** An email of a launch, as conditions name it: the launch's id, and the email's key in it. */
export const emailRef = (launchId: string, key: string): string => `${launchId}/${key}`;
/** The launch and the key of an email that a condition names. */
export const partsOfEmailRef = (ref: string): { launchId: string; key: string } => ({ launchId: ref.slice(0, 36), key: ref.slice(37) });

const mailed = z.strictObject({
  mailed: z.enum(mailDeeds),
  /** Which email (`emailRef`); any, where it is left out. */
  email: z
    .string()
    .regex(/^[0-9a-f-]{36}\/[\w-]{1,80}$/)
    .optional(),
  /** Of a click: on which link. */
  link: textTest.optional(),
  withinDays: z.number().int().min(1).max(mostDays).optional(),
});
export type Mailed = z.infer<typeof mailed>;

const toldOther = z.strictObject({
  launch: z.uuid(),
  /** The closing that holds, and an instant before which a closing is another matter: the opening of its doors. */
  than: z.iso.datetime(),
  after: z.iso.datetime(),
});
/** The last email that stated a closing of a launch's doors stated another than the one that holds. */
export type ToldOther = z.infer<typeof toldOther>;

/** What is asked of one person, by what they did and where they came from. */
export type Condition =
  | { all: Condition[] }
  | { any: Condition[] }
  | { none: Condition[] }
  | Did
  | Mailed
  | { toldOther: ToldOther }
  | { country: string[] }
  | { source: TextTest }
  | { device: (typeof devices)[number] }
  /** The partner whose link led them here first; null for any. */
  | { partner: string | null }
  | { tag: string }
  /** What they answered to a question of the vendor's own, by its words. */
  | { answered: { question: string; text: TextTest } }
  /** They agreed to emails, have not unsubscribed since, and their address takes mail. */
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
  mailed,
  z.strictObject({ toldOther }),
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

import { z } from "zod";
import { fault } from "../words";
import { isZone } from "../launch";
import { longestAnswer } from "./fields";
import { country, email, isLanguage, isName } from "./person";

const instant = z.coerce.date();
const minor = z.number();
const at = { at: instant, launch: z.string().nullable() };

/**
 * What a person did or got, at an instant, of a launch (its name; null where it is of none). Visits stand by the day: of the pages that were
 * seen on it, how often each.
 */
export const personEntry = z.discriminatedUnion("is", [
  z.object({ ...at, is: z.literal("visits"), pages: z.array(z.object({ page: z.string(), n: z.number() })) }),
  z.object({ ...at, is: z.literal("touch"), partner: z.string() }),
  z.object({ ...at, is: z.literal("opt_in"), page: z.string(), confirmed: z.boolean() }),
  z.object({ ...at, is: z.literal("confirmed") }),
  z.object({ ...at, is: z.literal("unsubscribed") }),
  z.object({ ...at, is: z.literal("film"), film: z.string(), quarters: z.number() }),
  z.object({ ...at, is: z.literal("checkout") }),
  z.object({ ...at, is: z.literal("order"), order: z.string(), number: z.number(), minor, currency: z.string() }),
  z.object({ ...at, is: z.literal("declined"), code: z.string().nullable(), minor, currency: z.string() }),
  z.object({ ...at, is: z.literal("offer"), decision: z.enum(["yes", "no"]), product: z.string().nullable() }),
  z.object({ ...at, is: z.literal("refund"), order: z.string(), minor, currency: z.string() }),
  z.object({ ...at, is: z.literal("email"), kind: z.string(), subject: z.string().nullable() }),
  z.object({ ...at, is: z.literal("clicked"), link: z.string(), subject: z.string().nullable() }),
  z.object({ ...at, is: z.literal("returned"), complaint: z.boolean(), subject: z.string().nullable() }),
  z.object({ ...at, is: z.literal("clock"), trigger: z.string() }),
  z.object({ ...at, is: z.literal("clock_stopped"), because: z.string() }),
  z.object({ ...at, is: z.literal("comment") }),
  z.object({ ...at, is: z.literal("notice"), name: z.string() }),
  z.object({ ...at, is: z.literal("tag"), tag: z.string() }),
  z.object({ ...at, is: z.literal("imported"), file: z.string(), line: z.number() }),
]);
export type PersonEntry = z.infer<typeof personEntry>;

// At one instant what led there comes before what followed from it.
const order: readonly PersonEntry["is"][] = [
  "touch",
  "visits",
  "opt_in",
  "confirmed",
  "notice",
  "clock",
  "film",
  "comment",
  "checkout",
  "declined",
  "order",
  "offer",
  "clock_stopped",
  "imported",
  "tag",
  "email",
  "clicked",
  "returned",
  "refund",
  "unsubscribed",
];

/** Entries from the first to the newest; at one instant causes come before what followed. */
export const timelineOf = (entries: readonly PersonEntry[]): PersonEntry[] =>
  [...entries].sort((a, b) => a.at.getTime() - b.at.getTime() || order.indexOf(a.is) - order.indexOf(b.is));

/** A tag: a short word of the vendor's own, compared as it is written, without spaces at its ends. */
export const tag = z.string().trim().min(1, fault("words_missing")).max(60);

const name = (most: number) =>
  z
    .string()
    .trim()
    .max(most)
    .refine((typed) => typed === "" || isName(typed), fault("not_a_name"));
/** What of a person can be corrected at the desk. An address is compared and kept in lower case. */
export const personCorrection = z.object({
  email,
  firstName: name(60),
  lastName: name(60),
  phone: z.string().trim().max(40),
  /** Two letters of ISO 3166-1; empty where it is not known. */
  country: z.union([z.literal(""), country]),
  /** Where their clock is (IANA), and what they read (ISO 639-1); empty where nobody said so. */
  zone: z.union([z.literal(""), z.string().refine(isZone, fault("not_of_the_list"))]),
  language: z.union([z.literal(""), z.string().refine(isLanguage, fault("not_of_the_list"))]),
  /** What fields of the vendor's own are filled with, by their names; an empty one is emptied. */
  answers: z.record(z.string().max(200), z.string().trim().max(longestAnswer)),
});
export type PersonCorrection = z.infer<typeof personCorrection>;
/** What of a person a correction started from. */
export const seenPerson = z.object({
  email: z.string(),
  firstName: z.string(),
  lastName: z.string(),
  phone: z.string(),
  country: z.string(),
  zone: z.string(),
  language: z.string(),
  answers: z.record(z.string(), z.string()),
}) satisfies z.ZodType<PersonCorrection>;

/** What the desk knows of one person. */
export const personRecord = z.object({
  id: z.string(),
  since: instant,
  /** None of a visitor whose address is not known. */
  contact: seenPerson
    .extend({
      id: z.string(),
      /** Addresses of records that were merged into this one. */
      otherEmails: z.array(z.string()),
      provenAt: instant.nullable(),
      unsubscribedAt: instant.nullable(),
      /** Since when no mail to many goes there, because some came back, and what the server said that sent it back. */
      suppressed: z.object({ at: instant, because: z.enum(["bounced", "complained"]), says: z.string() }).nullable(),
      /** Since when they want one email a week at most. */
      fewerSince: instant.nullable(),
      hasPassword: z.boolean(),
    })
    .nullable(),
  /** Where the country comes from that the person did not name: the language of their browser. */
  guessedCountry: z.string().nullable(),
  /** The same of zone and language: what the browser of a form said. */
  guessedZone: z.string().nullable(),
  guessedLanguage: z.string().nullable(),
  /** Every consent as it was given: the words, when, and on which form; or as a file stated it, by the file's name. */
  consents: z.array(
    z.object({
      launch: z.string(),
      words: z.string(),
      page: z.string(),
      form: z.string(),
      file: z.string().nullable(),
      askedAt: instant,
      confirmedAt: instant.nullable(),
    }),
  ),
  tags: z.array(z.object({ tag: z.string(), at: instant })),
  browsers: z.number(),
  /** Other people who turned out to be this one. */
  merged: z.number(),
  launches: z.array(
    z.object({
      slug: z.string(),
      name: z.string(),
      zone: z.string(),
      /** When the doors close for this person; null where none closes ahead. */
      closes: instant.nullable(),
      /** Who would be credited with an order now, of how many touches. */
      credited: z.string().nullable(),
      touches: z.number(),
      /** Since when they get no emails of it, and by whose doing. */
      optedOut: z.object({ at: instant, by: z.enum(["rule", "desk", "reader"]) }).nullable(),
    }),
  ),
  timeline: z.array(personEntry),
});
export type PersonRecord = z.infer<typeof personRecord>;

export const peopleSorts = ["name", "email", "country", "since", "spent"] as const;
export type PeopleSort = (typeof peopleSorts)[number];

/** Somebody with an address, as the list of all people shows them. */
export const personRow = z.object({
  id: z.string(),
  name: z.string(),
  email: z.string(),
  country: z.string(),
  since: instant,
  /** May be written to: consented, did not unsubscribe, and the address takes mail. */
  mayWrite: z.boolean(),
  tags: z.array(z.string()),
  orders: z.number(),
  /** Paid so far, refunds not taken off, by currency. */
  spent: z.array(z.object({ currency: z.string(), minor })),
});
export type PersonRow = z.infer<typeof personRow>;

/** What erasing somebody touches: orders that keep name and address for the books, emails that wait, comments; and what stands against it. */
export const erasureFacts = z.object({
  orders: z.number(),
  emails: z.number(),
  comments: z.number(),
  blocked: z.enum(["recurring_payment", "payment"]).nullable(),
});
export type ErasureFacts = z.infer<typeof erasureFacts>;

/** What merging two records of one person changes: which address is kept, which leads there, and what moves along with it. */
export const mergeFacts = z.object({
  keeps: z.string(),
  joins: z.string(),
  orders: z.number(),
  emails: z.number(),
  tags: z.number(),
  launches: z.number(),
  /** Whether the one that is kept may be written to no more, because the other has unsubscribed. */
  unsubscribed: z.boolean(),
});
export type MergeFacts = z.infer<typeof mergeFacts>;

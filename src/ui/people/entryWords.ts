import type { PersonEntry } from "../../core/people";
import { emailKindWords, type EmailKindName } from "../../core/emails";
import { formatMoney } from "../kit/data/numbers";

/** What kind of thing an entry of a timeline is: its mark. */
export type EntryMark = "person" | "email" | "money" | "loss" | "time";

const marks: Record<PersonEntry["is"], EntryMark> = {
  visits: "person",
  touch: "person",
  opt_in: "person",
  confirmed: "person",
  unsubscribed: "loss",
  film: "person",
  checkout: "person",
  order: "money",
  declined: "loss",
  offer: "money",
  refund: "loss",
  email: "email",
  clicked: "email",
  returned: "loss",
  clock: "time",
  clock_stopped: "time",
  comment: "person",
  notice: "person",
  tag: "person",
  imported: "person",
};

const triggers: Record<string, string> = {
  opt_in: "the opt-in",
  visit: "the first visit",
  page: "a page",
  webhook: "an outside tool",
  hand_over: "a hand-over from another launch",
};
const stops: Record<string, string> = { bought: "bought", page: "reached the page that stops it", handed_over: "handed over" };

const pageOf = (page: string): string => (page === "" ? "/" : `/${page}`);

const ofSubject = (subject: string | null): string => (subject === null ? "" : `: ${subject}`);

const says = (entry: PersonEntry): string => {
  switch (entry.is) {
    case "visits":
      return `visited ${entry.pages.map(({ page, n }) => (n > 1 ? `${pageOf(page)} ${n} times` : pageOf(page))).join(", ")}`;
    case "touch":
      return `came by the link of ${entry.partner}`;
    case "opt_in":
      return entry.confirmed ? `opted in on ${pageOf(entry.page)}` : `opted in on ${pageOf(entry.page)}, not confirmed`;
    case "confirmed":
      return "confirmed the address";
    case "unsubscribed":
      return "unsubscribed";
    case "film":
      return entry.quarters === 4 ? "watched a video to the end" : `watched ${entry.quarters * 25} % of a video`;
    case "checkout":
      return "began a checkout";
    case "order":
      return `bought: order ${entry.number}, ${formatMoney(entry.minor, entry.currency)}`;
    case "declined":
      return `payment of ${formatMoney(entry.minor, entry.currency)} declined${entry.code ? `: ${entry.code.replaceAll("_", " ")}` : ""}`;
    case "offer":
      return `said ${entry.decision} to ${entry.product ?? "an offer"}`;
    case "refund":
      return `refunded ${formatMoney(entry.minor, entry.currency)}`;
    case "email":
      return `email: ${entry.subject ?? (emailKindWords[entry.kind as EmailKindName] || entry.kind)}`;
    case "clicked":
      return `clicked “${entry.link}” in an email${ofSubject(entry.subject)}`;
    case "returned":
      return entry.complaint ? `reported an email as spam${ofSubject(entry.subject)}` : `an email could not be delivered${ofSubject(entry.subject)}`;
    case "clock":
      return `own clock started by ${triggers[entry.trigger] ?? entry.trigger.replaceAll("_", " ")}`;
    case "clock_stopped":
      return `own clock stopped: ${stops[entry.because] ?? entry.because.replaceAll("_", " ")}`;
    case "comment":
      return "wrote a comment";
    case "notice":
      return `“${entry.name}”, as another tool reports`;
    case "imported":
      return `brought in from ${entry.file}, line ${entry.line}`;
    case "tag":
      return `tagged “${entry.tag}”`;
  }
};

export interface EntryLine {
  at: Date;
  /** Only the day is known. */
  byDay: boolean;
  mark: EntryMark;
  says: string;
  launch: string | null;
  href?: string;
}

/** An entry of a timeline as it is read: visits by the day, all else by the minute. Orders and refunds lead to their order. */
export const entryLine = (entry: PersonEntry): EntryLine => ({
  at: entry.at,
  byDay: entry.is === "visits",
  mark: marks[entry.is],
  says: says(entry),
  launch: entry.launch,
  ...("order" in entry ? { href: `/desk/orders/${entry.order}` } : {}),
});

/** How many of all may be written to. */
export const listWords = (all: number, mayWrite: number): string =>
  `${mayWrite.toLocaleString("en")} of ${all.toLocaleString("en")} may be written to`;

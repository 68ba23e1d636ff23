import { eventKinds, kindWords, mailDeeds, mailWords, type Condition, type MailDeed } from "../../../core/conditions";
import { devices, type EventKind } from "../../../core/events";

/** What a row asks for: something that was done, or something that is known. */
export type RowKind = EventKind | MailRow | "country" | "source" | "device" | "partner" | "tag" | "answered" | "mayWrite" | "spent" | "toldOther";

/** A row about emails; what it is called begins apart, since some of its words are an event's as well. */
export type MailRow = `mail_${MailDeed}`;
const mailRow = (deed: MailDeed): MailRow => `mail_${deed}`;
const ofMail = Object.fromEntries(mailDeeds.map((deed) => [mailRow(deed), `${mailWords[deed]} an email`])) as Record<MailRow, string>;

const known: Record<Exclude<RowKind, EventKind | MailRow>, string> = {
  tag: "is tagged",
  spent: "spent at least",
  country: "is in",
  source: "came from source",
  device: "came on a",
  partner: "came through partner",
  answered: "answered",
  mayWrite: "may be written to",
  toldOther: "was last told a closing of",
};
/** In the words of the sentence that it makes. */
export const rowKindWords: Record<RowKind, string> = { ...kindWords, ...ofMail, ...known };
const offered = (Object.keys(known) as (keyof typeof known)[]).filter((kind) => kind !== "toldOther");
/** Those that a row may begin as; who was told another closing is asked where one was moved. */
export const rowKinds: readonly RowKind[] = [...eventKinds, ...mailDeeds.map(mailRow), ...offered];

const [firstDevice] = devices;
const empty = { is: "equals", text: "" } as const;
const begun: Record<keyof typeof known, Condition> = {
  tag: { tag: "" },
  spent: { spent: { minor: 10_000, currency: "EUR" } },
  country: { country: [] },
  source: { source: empty },
  device: { device: firstDevice },
  partner: { partner: null },
  answered: { answered: { question: "", text: { is: "contains", text: "" } } },
  mayWrite: { mayWrite: true },
  toldOther: { toldOther: { launch: "", than: "", after: "" } },
};

/** A row of a kind, as it begins: what has to be typed is empty still. */
export const newRow = (kind: RowKind): Condition => {
  const mailed = mailDeeds.find((deed) => mailRow(deed) === kind);
  return mailed ? { mailed } : kind in known ? begun[kind as keyof typeof known] : { did: kind as EventKind };
};

export const kindOfRow = (one: Condition): RowKind => {
  if ("did" in one) return one.did;
  if ("mailed" in one) return mailRow(one.mailed);
  return (Object.keys(known) as (keyof typeof known)[]).find((kind) => kind in one)!;
};

/** What was done on pages, and what was done with a product. */
export const onPages: ReadonlySet<RowKind> = new Set(["visited", "saw_sales", "watched", "opted_in", "commented"]);
export const ofProducts: ReadonlySet<RowKind> = new Set(["began_checkout", "paid", "offered", "offer_accepted", "offer_declined"]);

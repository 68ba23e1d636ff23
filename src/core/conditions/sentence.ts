import type { EventKind } from "../events";
import { formatAmount } from "../money";
import type { Condition, Did, Mailed, MailDeed, TextTest } from "./condition";

/** What was done, in the words of a condition. */
export const kindWords: Record<EventKind, string> = {
  visited: "visited a page",
  saw_sales: "saw a sales page",
  watched: "watched a film",
  opted_in: "opted in",
  opt_in_asked: "asked to be listed",
  confirmed: "confirmed an address",
  began_checkout: "began a checkout",
  coupon_tried: "tried a code",
  paid: "paid",
  payment_refused: "had a payment refused",
  offered: "was shown an offer",
  offer_accepted: "accepted an offer",
  offer_declined: "declined an offer",
  refunded: "got money back",
  commented: "commented",
  applied: "asked to be a partner",
};

/** What became of an email, in the words of a condition. */
export const mailWords: Record<MailDeed, string> = {
  sent: "was sent",
  opened: "opened",
  clicked: "clicked in",
  left: "unsubscribed through",
  bounced: "could not be reached by",
  complained: "reported as spam",
};

export const textWords: Record<TextTest["is"], string> = { equals: "", contains: "containing ", starts: "starting with ", matches: "matching " };
export const groupWords = { all: "all of", any: "any of", none: "none of" } as const;

/** What things are called: each name stands for one id alone. */
export interface ConditionNames {
  launch: (id: string) => string;
  product: (id: string) => string;
  step: (id: string) => string;
  partner: (id: string) => string;
  email: (id: string) => string;
}

const quoted = (text: string): string => JSON.stringify(text);
const asked = (noun: string, { is, text }: TextTest): string => `${is === "equals" ? noun : `a ${noun}`} ${textWords[is]}${quoted(text)}`;

const within = (days: number | undefined): string[] => (days ? [`within ${days} ${days === 1 ? "day" : "days"}`] : []);

const didWords = ({ did, launch, page, product, step, times, withinDays }: Did, names: ConditionNames): string =>
  [
    kindWords[did],
    ...(launch ? [`of launch ${quoted(names.launch(launch))}`] : []),
    ...(page ? [`on ${asked("page", page)}`] : []),
    ...(product ? [`of product ${quoted(names.product(product))}`] : []),
    ...(step ? [`at step ${quoted(names.step(step))}`] : []),
    ...(times ? [`at least ${times} times`] : []),
    ...within(withinDays),
  ].join(" ");

const mailedWords = ({ mailed, email, link, withinDays }: Mailed, names: ConditionNames): string =>
  [
    mailWords[mailed],
    email === undefined ? "any email" : `email ${quoted(names.email(email))}`,
    ...(link ? [`on ${asked("link", link)}`] : []),
    ...within(withinDays),
  ].join(" ");

/** A condition as a sentence, such as `all of (opted in; none of (paid within 30 days))`. `readSentence` reads it back. */
export const conditionSentence = (one: Condition, names: ConditionNames): string => {
  const group = (words: string, parts: Condition[]) => `${words} (${parts.map((part) => conditionSentence(part, names)).join("; ")})`;
  if ("all" in one) return group(groupWords.all, one.all);
  if ("any" in one) return group(groupWords.any, one.any);
  if ("none" in one) return group(groupWords.none, one.none);
  if ("did" in one) return didWords(one, names);
  if ("mailed" in one) return mailedWords(one, names);
  if ("toldOther" in one) {
    const { launch, than, after } = one.toldOther;
    return `was last told a closing of launch ${quoted(names.launch(launch))} after ${after} other than ${than}`;
  }
  if ("country" in one) return `is in ${one.country.join(" or ")}`;
  if ("source" in one) return `came from ${asked("source", one.source)}`;
  if ("device" in one) return `came on a ${one.device}`;
  if ("partner" in one) return one.partner === null ? "came through any partner" : `came through partner ${quoted(names.partner(one.partner))}`;
  if ("tag" in one) return `is tagged ${quoted(one.tag)}`;
  if ("answered" in one) return `answered ${quoted(one.answered.question)} with ${asked("text", one.answered.text)}`;
  if ("mayWrite" in one) return "may be written to";
  return `spent at least ${formatAmount(one.spent.minor, one.spent.currency)} ${one.spent.currency}`;
};

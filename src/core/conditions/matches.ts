import { dayOf } from "./day";
import type { EventFact } from "../events";
import { partsOfEmailRef, type Condition, type Did, type Mailed, type MailDeed, type TextTest, type ToldOther } from "./condition";

/** What is known of one person. */
export interface History {
  /** Per launch: what was known first. */
  launches: { launchId: string; country?: string; source?: string; device?: string; partnerId?: string }[];
  events: ({ launchId: string; page: string; at: Date } & EventFact)[];
  /** Orders that were paid, tax included, in minor units. */
  orders: { launchId: string; minor: number; currency: string; at: Date }[];
  tags: string[];
  /** Emails to them, by the launch and the key of each, with the closing that it stated and what became of it; of a click, from when it counts. */
  emails?: ({ launchId: string; key: string; statedClosing?: Date; clicks: { link: string; at: Date; countsAt: Date }[] } & Partial<
    Record<Exclude<MailDeed, "clicked">, Date>
  >)[];
  /** Of whoever gave an address. */
  contact?: { answers: Readonly<Record<string, string>>; consentAt?: Date; unsubscribedAt?: Date; suppressedAt?: Date };
}

/** What a condition looks at: one launch or all of them, as things are at an instant. */
export interface ConditionScope {
  launchId?: string;
  now: Date;
  /** Whether that instant is past, so that things have happened since. */
  past?: boolean;
}

/** Whether a text is what is asked for. */
export const textMatches = ({ is, text }: TextTest, of: string): boolean =>
  is === "equals" ? of === text : is === "contains" ? of.includes(text) : is === "starts" ? of.startsWith(text) : new RegExp(text, "u").test(of);

const productsOf = ({ data }: EventFact): string[] => ("products" in data ? data.products : "product" in data ? [data.product] : []);

const didIt = (asked: Did, { events }: History, { now }: ConditionScope): boolean => {
  const times = events.filter(
    (event) =>
      event.kind === asked.did &&
      event.at <= now &&
      (asked.launch === undefined || event.launchId === asked.launch) &&
      (asked.withinDays === undefined || dayOf(event.at) > dayOf(now) - asked.withinDays) &&
      (asked.page === undefined || textMatches(asked.page, event.page)) &&
      (asked.product === undefined || productsOf(event).includes(asked.product)) &&
      (asked.step === undefined || ("step" in event.data && event.data.step === asked.step)),
  );
  return times.length >= (asked.times ?? 1);
};

const mailedIt = ({ mailed, email, link, withinDays }: Mailed, { emails = [] }: History, { now }: ConditionScope): boolean => {
  const ref = email === undefined ? undefined : partsOfEmailRef(email);
  const recent = (at: Date) => withinDays === undefined || dayOf(at) > dayOf(now) - withinDays;
  return emails
    .filter(({ launchId, key }) => ref === undefined || (launchId === ref.launchId && key === ref.key))
    .some((one) => {
      if (mailed !== "clicked") return one[mailed] !== undefined && one[mailed] <= now && recent(one[mailed]);
      return one.clicks.some((click) => click.countsAt <= now && recent(click.at) && (link === undefined || textMatches(link, click.link)));
    });
};

const toldAnother = ({ launch, than, after }: ToldOther, { emails = [] }: History, { now }: ConditionScope): boolean => {
  const last = emails
    .flatMap(({ launchId, sent, statedClosing }) => (launchId === launch && sent && sent <= now && statedClosing ? [{ sent, statedClosing }] : []))
    .sort((a, b) => b.sent.getTime() - a.sent.getTime())[0]?.statedClosing;
  return last !== undefined && last > new Date(after) && last.getTime() !== Date.parse(than);
};

/** Whether a person is one of those whom a condition asks for. */
export const matches = (asked: Condition, history: History, scope: ConditionScope): boolean => {
  if (scope.launchId !== undefined) {
    const own = <T extends { launchId: string }>(rows: T[]) => rows.filter(({ launchId }) => launchId === scope.launchId);
    const { launches, events, orders, emails = [], ...person } = history;
    return meets(asked, { ...person, launches: own(launches), events: own(events), orders: own(orders), emails: own(emails) }, scope);
  }
  return meets(asked, history, scope);
};

const meets = (asked: Condition, history: History, scope: ConditionScope): boolean => {
  if ("all" in asked) return asked.all.every((part) => meets(part, history, scope));
  if ("any" in asked) return asked.any.some((part) => meets(part, history, scope));
  if ("none" in asked) return !asked.none.some((part) => meets(part, history, scope));
  if ("did" in asked) return didIt(asked, history, scope);
  if ("mailed" in asked) return mailedIt(asked, history, scope);
  if ("toldOther" in asked) return toldAnother(asked.toldOther, history, scope);
  if ("tag" in asked) return history.tags.includes(asked.tag);
  if ("answered" in asked) {
    const { question, text } = asked.answered;
    const answers = history.contact?.answers ?? {};
    return Object.hasOwn(answers, question) && textMatches(text, answers[question]!);
  }
  if ("mayWrite" in asked) {
    const { consentAt, unsubscribedAt, suppressedAt } = history.contact ?? {};
    const over = (at: Date | undefined) => at !== undefined && at <= scope.now;
    return over(consentAt) && !over(unsubscribedAt) && !over(suppressedAt);
  }
  if ("spent" in asked) {
    const { minor, currency } = asked.spent;
    return (
      history.orders.filter((order) => order.currency === currency && order.at <= scope.now).reduce((sum, order) => sum + order.minor, 0) >= minor
    );
  }
  return history.launches.some((known) => {
    if ("country" in asked) return known.country !== undefined && asked.country.includes(known.country);
    if ("source" in asked) return known.source !== undefined && textMatches(asked.source, known.source);
    if ("device" in asked) return known.device === asked.device;
    return asked.partner === null ? known.partnerId !== undefined : known.partnerId === asked.partner;
  });
};

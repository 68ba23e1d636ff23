import { emailRef } from "../../core/conditions";
import { hungKinds, orderAfterClickDays, type EmailKindName, type EmailVariant } from "../../core/emails";
import { addMoney, type MoneyByCurrency } from "../../core/money";
import type { EntityManager } from "../orm";

/** What became of the emails of a launch that are of one kind, or of one email on a bell or in a sequence. */
export interface EmailFigures {
  kind: EmailKindName;
  /** Which email on a bell or in a sequence; null for the other kinds. */
  email: string | null;
  /** What conditions call it (`emailRef`). */
  ref: string;
  sent: number;
  /** Of those sent, how many came back undelivered, were reported as spam, and were unsubscribed through. */
  bounced: number;
  complained: number;
  left: number;
  /** Of those sent, how many had their pictures fetched, by whomever. */
  opened: number;
  /** Of those sent, in how many a person followed a link, and in how many a program alone did. */
  clicked: number;
  byMachine: number;
  /** Orders placed within days of a click in it, and what they brought, tax included, by currency. */
  orders: number;
  revenue: MoneyByCurrency;
  due: number;
  /** How many were dropped, by why. */
  stopped: Record<string, number>;
  /** The mail server's answer to these was lost. */
  unknown: number;
}

/** Which email of its kind a message is. By the key, which stays when what the email was made from is forgotten. */
const hung = hungKinds.map((kind) => `'${kind}'`).join(", ");
const emailOf = /* sql */ `case when m.kind in (${hung}) then split_part(m.key, ':', 3) end`;

type Counts = Record<"sent" | "bounced" | "complained" | "left" | "opened" | "clicked" | "by_machine" | "due" | "unknown", string>;

interface OrdersRow {
  kind: EmailKindName;
  email: string | null;
  variant: EmailVariant | null;
  currency: string;
  orders: string;
  minor: string;
}

/** The orders that followed clicks in the emails of a launch, each counted for the email that was clicked last before it. */
const ordersAfterClicks = (em: EntityManager, launchId: string, asOf: Date): Promise<OrdersRow[]> =>
  em.execute<OrdersRow[]>(
    `with followed as (
       select distinct on (o.id) o.id, o.currency, m.kind, ${emailOf} as email, m.variant
       from email_message m join email_click c on c.email_id = m.id and not c.machine and c.counts_at <= ?
       join sale_order o on o.contact_id = m.contact_id and o.launch_id = m.launch_id and not o.test and o.placed_at <= ?
         and o.placed_at >= c.at and o.placed_at < c.at + make_interval(days => ?)
       where m.launch_id = ? order by o.id, c.at desc
     )
     select f.kind, f.email, f.variant, f.currency, count(distinct f.id) as orders, sum(n.gross_minor) as minor
     from followed f join order_line n on n.order_id = f.id group by 1, 2, 3, 4`,
    [asOf, asOf, orderAfterClickDays, launchId],
  );

/** How many orders there are in rows, and what they brought. */
const earnedBy = (rows: readonly OrdersRow[]): { orders: number; revenue: MoneyByCurrency } => ({
  orders: rows.reduce((sum, row) => sum + Number(row.orders), 0),
  revenue: addMoney(...rows.map(({ currency, minor }) => ({ [currency]: Number(minor) }))),
});

/** What became of all emails of a launch that were queued by an instant. */
export const emailFigures = async (em: EntityManager, launchId: string, asOf: Date): Promise<EmailFigures[]> => {
  const rows = await em.execute<(Counts & { kind: EmailKindName; email: string | null; stopped: Record<string, number> })[]>(
    `with clicked as (
       select c.email_id, coalesce(bool_or(c.counts_at <= ? and not c.machine), false) as person from email_click c join email_message m on m.id = c.email_id
       where m.launch_id = ? and c.at <= ? group by 1
     ), counted as (
       select m.kind, ${emailOf} as email, m.state, m.stopped_because, count(*) as n,
         count(*) filter (where m.bounced_at <= ?) as bounced, count(*) filter (where m.complained_at <= ?) as complained,
         count(*) filter (where m.left_at <= ?) as left, count(*) filter (where m.opened_at <= ?) as opened,
         count(*) filter (where k.person) as clicked, count(*) filter (where not k.person) as by_machine
       from email_message m left join clicked k on k.email_id = m.id
       where m.launch_id = ? and (m.sent_at is null or m.sent_at <= ?) group by 1, 2, 3, 4
     )
     select kind, email, ${["bounced", "complained", "left", "opened", "clicked", "by_machine"]
       .map((what) => `coalesce(sum("${what}") filter (where state = 'sent'), 0) as "${what}"`)
       .join(", ")},
       coalesce(sum(n) filter (where state = 'sent'), 0) as sent,
       coalesce(sum(n) filter (where state in ('due', 'sending')), 0) as due,
       coalesce(sum(n) filter (where state = 'unknown'), 0) as unknown,
       coalesce(jsonb_object_agg(coalesce(stopped_because, ''), n) filter (where state = 'stopped'), '{}') as stopped
     from counted group by 1, 2 order by 1, 2`,
    [asOf, launchId, asOf, asOf, asOf, asOf, asOf, launchId, asOf],
  );
  const orders = await ordersAfterClicks(em, launchId, asOf);
  return rows.map(({ kind, email, stopped, by_machine, ...counts }) => {
    const own = orders.filter((row) => row.kind === kind && row.email === email);
    const whole = Object.fromEntries(Object.entries(counts).map(([name, n]) => [name, Number(n)])) as Record<keyof typeof counts, number>;
    return {
      kind,
      email,
      ref: emailRef(launchId, email ?? kind),
      ...whole,
      byMachine: Number(by_machine),
      stopped,
      ...earnedBy(own),
    };
  });
};

/** What became of one of two variants of an email. */
export interface VariantFigures {
  /** The email, by its key. */
  key: string;
  variant: EmailVariant;
  sent: number;
  opened: number;
  clicked: number;
  orders: number;
  revenue: MoneyByCurrency;
}

/** What became of the variants of a launch's emails, of those that were sent while there were two. */
export const variantFigures = async (em: EntityManager, launchId: string, asOf: Date): Promise<VariantFigures[]> => {
  const rows = await em.execute<
    { kind: EmailKindName; email: string | null; variant: EmailVariant; sent: string; opened: string; clicked: string }[]
  >(
    `select m.kind, ${emailOf} as email, m.variant, count(*) as sent, count(*) filter (where m.opened_at <= ?) as opened,
       count(*) filter (where exists (select from email_click c where c.email_id = m.id and not c.machine and c.counts_at <= ?)) as clicked
     from email_message m where m.launch_id = ? and m.variant is not null and m.state = 'sent' and m.sent_at <= ? group by 1, 2, 3 order by 1, 2, 3`,
    [asOf, asOf, launchId, asOf],
  );
  const orders = rows.length === 0 ? [] : await ordersAfterClicks(em, launchId, asOf);
  return rows.map(({ kind, email, variant, sent, opened, clicked }) => ({
    key: email ?? kind,
    variant,
    sent: Number(sent),
    opened: Number(opened),
    clicked: Number(clicked),
    ...earnedBy(orders.filter((row) => row.kind === kind && row.email === email && row.variant === variant)),
  }));
};

/** What became of one link of an email. */
export interface LinkFigures {
  /** Where it leads, in a few words. */
  link: string;
  /** How many people followed it, and how often. */
  people: number;
  clicks: number;
  /** How often a program did. */
  byMachine: number;
}

/** The links of an email on a bell or in a sequence that were followed by an instant, the most followed first. */
export const linkFigures = async (em: EntityManager, launchId: string, email: string, asOf: Date): Promise<LinkFigures[]> => {
  const rows = await em.execute<{ link: string; people: string; clicks: string; by_machine: string }[]>(
    `select c.link, count(distinct m.contact_id) filter (where c.counts_at <= ? and not c.machine) as people,
       count(*) filter (where c.counts_at <= ? and not c.machine) as clicks, count(*) filter (where not coalesce(c.counts_at <= ? and not c.machine, false)) as by_machine
     from email_message m join email_click c on c.email_id = m.id
     where m.launch_id = ? and m.kind in (${hung}) and split_part(m.key, ':', 3) = ? and c.at <= ? group by 1 order by 2 desc, 1`,
    [asOf, asOf, asOf, launchId, email, asOf],
  );
  return rows.map(({ link, people, clicks, by_machine }) => ({
    link,
    people: Number(people),
    clicks: Number(clicks),
    byMachine: Number(by_machine),
  }));
};

import type { Retained, Retention } from "../../core/settings";
import { forgetMessages } from "../webhooks/messages";
import { dropEventsBefore } from "../events/partitions";
import type { EntityManager } from "../orm";

/** What is kept for how long. */
export const retentionOf = async (em: EntityManager): Promise<Retention> => {
  const rows = await em.execute<{ what: Retained; days: number }[]>("select what, days from retention");
  return Object.fromEntries(rows.map(({ what, days }) => [what, days]));
};

/** Keeps something for so many days from now on; null for good. */
export const keepFor = async (em: EntityManager, what: Retained, days: number | null): Promise<void> => {
  if (days === null) await em.execute("delete from retention where what = ?", [what]);
  else await em.execute("insert into retention (what, days) values (?, ?) on conflict (what) do update set days = excluded.days", [what, days]);
};

const atOnce = 5_000;

/** Runs a statement that deletes or changes some rows until it finds no more: no transaction of it is long. */
const inSlices = async (em: EntityManager, sql: string, values: unknown[]): Promise<number> => {
  for (let all = 0; ;) {
    const { affectedRows } = await em.execute<{ affectedRows: number }>(sql, values, "run");
    all += affectedRows;
    if (affectedRows === 0) return all;
  }
};

const forget: Record<Retained, (em: EntityManager, before: Date) => Promise<number>> = {
  log: dropEventsBefore,
  visits: (em, before) =>
    inSlices(
      em,
      `delete from day_rollup where ctid = any(array(select ctid from day_rollup where day < (?::timestamptz at time zone 'UTC')::date limit ${atOnce}))`,
      [before],
    ),
  mail: (em, before) =>
    inSlices(
      em,
      `update email_message set data = '{}', subject = null, return_says = null where id in (select id from email_message where state in ('sent', 'stopped') and due_at < ? and (data <> '{}' or subject is not null) limit ${atOnce})`,
      [before],
    ),
  notices: async (em, before) =>
    (await inSlices(em, `delete from notice where id in (select id from notice where received_at < ? limit ${atOnce})`, [before])) +
    (await inSlices(em, forgetMessages, [before])),
  buyers: (em, before) =>
    inSlices(
      em,
      `delete from erased_buyer where order_id in (select b.order_id from erased_buyer b join sale_order o on o.id = b.order_id where o.placed_at < ? limit ${atOnce})`,
      [before],
    ),
  // Money that is on its way is waited for, and an email that hangs on a checkout is sent first.
  checkouts: async (em, before) => {
    const over = `select k.id from checkout k where k.paid_at is null and k.last_activity_at < ?
      and not exists (select from charge g where g.checkout_id = k.id and g.state not in ('declined', 'voided'))
      and not exists (select from sale_order s where s.checkout_id = k.id)
      and not exists (select from email_message m where m.checkout_id = k.id and m.state not in ('sent', 'stopped')) limit 1000`;
    return inSlices(
      em,
      `with over as (${over} for update skip locked), emails as (update email_message set checkout_id = null where checkout_id in (select id from over)),
       charges as (delete from charge where checkout_id in (select id from over) returning 1)
       delete from checkout where id in (select id from over) and (select count(*) from charges) >= 0`,
      [before],
    );
  },
};

const dayMs = 86_400_000;

/** Forgets what has been kept long enough. Answers how many rows went, or were emptied, of what. */
export const sweepRetention = async (em: EntityManager, now: Date): Promise<Retention> => {
  const gone: Retention = {};
  for (const [what, days] of Object.entries(await retentionOf(em)) as [Retained, number][]) {
    const n = await forget[what](em, new Date(now.getTime() - days * dayMs));
    if (n > 0) gone[what] = n;
  }
  return gone;
};

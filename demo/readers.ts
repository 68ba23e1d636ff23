import type { EntityManager } from "../src/store/orm";

/** A share from 0 to 1 that is the same for an email whenever the demo is made. */
const chance = (salt: string, id = "m.id"): string => `(('x' || substr(md5(${id}::text || '${salt}'), 1, 6))::bit(24)::int / 16777216.0)`;

/** Where the first button of an email leads, in the words that figures use. */
const firstLink = /* sql */ `(select case t.to->>'to' when 'page' then 'page ' || (t.to->>'page') when 'next' then 'next step' when 'outside' then t.to->>'url' else t.to->>'to' end
  from (select jsonb_path_query_first(e.published, '$.sections[*].blocks[*].target') as to) t)`;

/**
 * What the made-up readers did with the emails that have gone: about half of their pictures were fetched, some followed the first link, most of those who
 * bought within days came by it, a few unsubscribed, and a few mailboxes have programs that follow every link.
 */
export const readEmails = async (em: EntityManager, now: Date): Promise<void> => {
  await em.execute(
    `update email_message m set opened_at = m.sent_at + make_interval(secs => 120 + 40000 * power(${chance("when")}, 3))
     where m.state = 'sent' and m.kind in ('bell', 'step', 'once', 'welcome') and ${chance("opens")} < case m.variant when 'B' then 0.5 else 0.42 end + 0.2 * ${chance("reader", "m.contact_id")}
       and m.sent_at + make_interval(secs => 120 + 40000 * power(${chance("when")}, 3)) <= ?`,
    [now],
  );
  const click = (when: string) => /* sql */ `insert into email_click (id, email_id, link, at, counts_at)
     select md5(m.id::text || 'click')::uuid, m.id, l.link, w.at, w.at + interval '15 seconds'
     from email_message m join launch_email e on e.launch_id = m.launch_id and e.key = coalesce(m.data->>'email', m.data->>'step', m.kind)
     cross join lateral (select ${firstLink} as link) l cross join lateral ${when}`;
  // Who bought soon after an email mostly came by it: the newest before the purchase.
  await em.execute(
    `${click(`(select max(o.placed_at) - interval '11 minutes' as at from sale_order o where o.contact_id = m.contact_id and o.launch_id = m.launch_id and not o.test
        and o.placed_at > m.sent_at + interval '15 minutes' and o.placed_at < m.sent_at + interval '2 days') w`)}
     where m.state = 'sent' and w.at is not null and l.link is not null and ${chance("buys")} < 0.7
       and not exists (select from email_message n where n.contact_id = m.contact_id and n.launch_id = m.launch_id and n.state = 'sent' and n.sent_at > m.sent_at and n.sent_at < w.at)`,
  );
  await em.execute(
    `${click("(select m.opened_at + interval '40 seconds' as at) w")}
     where m.opened_at is not null and l.link is not null and w.at < ? and ${chance("clicks")} < 0.26 on conflict do nothing`,
    [now],
  );
  await em.execute(
    "update email_message m set opened_at = c.at from email_click c where c.email_id = m.id and (m.opened_at is null or m.opened_at > c.at)",
  );
  await em.execute(
    `insert into email_click (id, email_id, link, at, machine)
     select md5(m.id::text || k.link)::uuid, m.id, k.link, m.sent_at + interval '3 seconds', true from email_message m
     cross join (values ('next step'), ('page sales')) k(link)
     where m.state = 'sent' and m.kind in ('bell', 'step', 'once') and ${chance("guarded", "m.contact_id")} < 0.02`,
  );
  await em.execute(
    `with leaving as (
       select distinct on (m.contact_id) m.id, m.contact_id, m.opened_at + interval '90 seconds' as at from email_message m
       where m.state = 'sent' and m.kind in ('bell', 'step', 'once') order by m.contact_id, m.sent_at desc
     ), left_by as (
       update email_message m set left_at = l.at from leaving l where m.id = l.id and l.at < ? and ${chance("leaves")} < 0.012 returning m.contact_id, m.left_at
     ) update contact c set unsubscribed_at = b.left_at from left_by b where c.id = b.contact_id and c.unsubscribed_at is null and c.password_hash is null`,
    [now],
  );
};

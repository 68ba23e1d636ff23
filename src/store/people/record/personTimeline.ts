import { z } from "zod";
import { personEntry, timelineOf, type PersonEntry } from "../../../core/people";
import type { EntityManager } from "../../orm";

const entries = z.array(personEntry);

// Each part answers an instant, a launch and the entry's own data. Visits stand by the day: the log itself is not read, which has no order by people.
const happened = /* sql */ `
  select day::timestamptz as at, launch_id, jsonb_build_object('is', 'visits', 'pages', jsonb_agg(jsonb_build_object('page', page, 'n', n) order by n desc, page)) as entry
    from day_rollup where person_id = :person and kind in ('visited', 'saw_sales') group by day, launch_id
  union all select t.at, t.launch_id, jsonb_build_object('is', 'touch', 'partner', p.name) from touch_person tp join touch t on t.id = tp.touch_id join partner p on p.id = t.partner_id where tp.person_id = :person
  union all select asked_at, launch_id, jsonb_build_object('is', 'opt_in', 'page', page, 'confirmed', confirmed_at is not null) from opt_in where contact_id = :contact
  union all select confirmed_at, launch_id, '{"is":"confirmed"}' from opt_in where contact_id = :contact and confirmed_at > asked_at
  union all select unsubscribed_at, null, '{"is":"unsubscribed"}' from contact where id = :contact and unsubscribed_at is not null
  union all select at, launch_id, jsonb_build_object('is', 'film', 'film', film, 'quarters', quarters) from film_rollup where person_id = :person
  union all select begun_at, launch_id, '{"is":"checkout"}' from checkout where contact_id = :contact and not test
  union all select o.placed_at, o.launch_id, jsonb_build_object('is', 'order', 'order', o.id, 'number', o.number, 'currency', o.currency, 'minor', (select sum(n.gross_minor) from order_line n where n.order_id = o.id))
    from sale_order o where o.contact_id = :contact and not o.test
  union all select g.settled_at, k.launch_id, jsonb_build_object('is', 'declined', 'code', g.decline_code, 'minor', g.amount_minor, 'currency', g.currency)
    from charge g join checkout k on k.id = g.checkout_id where k.contact_id = :contact and not k.test and g.state = 'declined' and g.settled_at is not null
  union all select d.at, o.launch_id, jsonb_build_object('is', 'offer', 'decision', d.decision, 'product', (select n.name from order_line n where n.order_id = o.id and n.step_id = d.step_id limit 1))
    from offer_decision d join sale_order o on o.id = d.order_id where o.contact_id = :contact and not o.test
  union all select r.asked_at, o.launch_id, jsonb_build_object('is', 'refund', 'order', o.id, 'minor', r.amount_minor, 'currency', o.currency)
    from refund r join sale_order o on o.id = r.order_id where o.contact_id = :contact and not o.test and r.state = 'succeeded'
  union all select m.sent_at, m.launch_id, jsonb_build_object('is', 'email', 'kind', m.kind, 'subject', case when m.kind in ('bell', 'step', 'once') then m.subject end)
    from email_message m where m.contact_id = :contact and m.sent_at is not null
  union all select k.at, m.launch_id, jsonb_build_object('is', 'clicked', 'link', k.link, 'subject', m.subject)
    from email_message m join email_click k on k.email_id = m.id where m.contact_id = :contact and k.counts_at is not null and not k.machine
  union all select r.at, m.launch_id, jsonb_build_object('is', 'returned', 'complaint', r.complaint, 'subject', m.subject) from email_message m
    cross join lateral (values (m.bounced_at, false), (m.complained_at, true)) r(at, complaint) where m.contact_id = :contact and r.at is not null
  union all select at, launch_id, jsonb_build_object('is', 'clock', 'trigger', trigger) from clock_start where person_id = :person and not superseded
  union all select at, launch_id, jsonb_build_object('is', 'clock_stopped', 'because', because) from clock_stop where person_id = :person
  union all select at, launch_id, jsonb_build_object('is', 'notice', 'name', name) from person_notice where contact_id = :contact
  union all select at, launch_id, '{"is":"comment"}' from page_comment where person_id = :person
  union all select c.at, null, jsonb_build_object('is', 'imported', 'file', i.file_name, 'line', c.line) from people_import_contact c join people_import i on i.id = c.import_id where c.contact_id = :contact
  union all select at, null, jsonb_build_object('is', 'tag', 'tag', tag) from person_tag where person_id = :person`;

/** All that a person did and got up to an instant, from the first to the newest. */
export const personTimeline = async (
  em: EntityManager,
  { id, contactId }: { id: string; contactId: string | undefined },
  asOf: Date,
): Promise<PersonEntry[]> => {
  const values: (string | null)[] = [];
  const sql = happened.replace(/:(person|contact)/g, (_, of) => {
    values.push(of === "person" ? id : (contactId ?? null));
    return "?::uuid";
  });
  const rows = await em.execute<{ at: string; launch: string | null; entry: object }[]>(
    `select h.at, l.name as launch, h.entry from (${sql}) as h left join launch l on l.id = h.launch_id where h.at <= ?`,
    [...values, asOf],
  );
  return timelineOf(entries.parse(rows.map(({ at, launch, entry }) => ({ ...entry, at, launch }))));
};

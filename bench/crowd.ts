// The crowd of `npm run bench -- scale`, written by SQL.
import { partnerRatePlan } from "../src/core/partners";
import { createHash, randomUUID } from "node:crypto";
import type pg from "pg";

/** Loads so many people with what they did: 8 events each, 4 of 100 buy, one of 500 is a partner. Triggers are passed over; what they keep is written. */
export const loadCrowd = async (pool: pg.Pool, people: number): Promise<void> => {
  const client = await pool.connect();
  const run = (sql: string, values: unknown[] = []) => client.query(sql, values);
  try {
    await run("set session_replication_role = replica");
    await run("set synchronous_commit = off");
    await run(
      `update launch set settings = settings || '{"seats": 1000000, "rising": {"every": 5000, "stepMinor": 100, "capMinor": 100000}}'::jsonb where slug = 'gansey'`,
    );
    await run(
      `create temp table crowd as select gen_random_uuid() as person, gen_random_uuid() as visitor, gen_random_uuid() as contact, n, random() as luck,
         now() - random() * interval '20 days' as at, (array['PT','DE','FR','GB','IE','NL'])[1 + n % 6] as country,
         (select id from launch where slug = 'gansey') as launch from generate_series(1, $1::int) as n`,
      [people],
    );
    await run("insert into person (id, created_at) select person, at from crowd");
    await run("insert into visitor (id, person_id, first_seen_at) select visitor, person, at from crowd");
    await run(
      `insert into contact (id, person_id, email, first_name, country, consent_text, consent_at, proven_at, created_at)
       select contact, person, 'p' || n || '@scale.example', 'Name ' || n % 500, country, 'Yes.', at, at, at from crowd where luck < 0.35`,
    );
    await run(
      `insert into partner (id, email, name, password_hash, code, rate_bp) select gen_random_uuid(), 'partner' || n || '@scale.example', 'Partner ' || n, '-', 'scale-' || n, 4000
       from generate_series(1, greatest(5, $1::int / 500)) as n`,
      [people],
    );
    await run("create temp table sellers as select id, row_number() over (order by id) as i, count(*) over () as all_of from partner");
    await run(
      `create temp table clicks as select gen_random_uuid() as id, c.person, s.id as partner, c.at, c.launch from crowd c join sellers s on s.i = 1 + c.n % s.all_of where c.luck < 0.5`,
    );
    await run("insert into touch (id, launch_id, partner_id, at, page) select id, launch, partner, at, 'sales' from clicks");
    await run("insert into touch_person (touch_id, person_id) select id, person from clicks");
    await run(
      `insert into stage_rollup (launch_id, person_id, country, partner_id, visited, opted_in, saw_sales, began_checkout, paid)
       select c.launch, c.person, c.country, k.partner, c.at, case when luck < 0.35 then c.at + interval '1 minute' end, case when luck < 0.6 then c.at + interval '1 hour' end,
         case when luck < 0.1 then c.at + interval '2 hours' end, case when luck < 0.04 then c.at + interval '125 minutes' end from crowd c left join clicks k on k.person = c.person`,
    );
    await run(
      `insert into page_rollup (launch_id, page, person_id, variant, seen_at, acted_at)
       select launch, p.page, person, case when n % 2 = 0 then 'A' else 'B' end, at, case when luck < 0.35 and p.page = 'optin' then at end
       from crowd cross join (values ('optin'), ('sales'), ('episodes/1')) as p(page)`,
    );
    await run(
      `insert into event (launch_id, person_id, visitor_id, kind, at, page, country, data)
       select launch, person, visitor, (array['visited','saw_sales','visited','visited','saw_sales','opted_in','visited','saw_sales'])[k], at + k * interval '7 minutes', 'sales', country,
         case when k = 6 then '{"form":"form"}' else '{"variant":"A"}' end::jsonb
       from crowd cross join generate_series(1, 8) as k where k <> 6 or luck < 0.35`,
    );
    await run(
      `insert into day_rollup (launch_id, person_id, kind, page, day, n) select e.launch_id, e.person_id, e.kind, e.page, (e.at at time zone 'UTC')::date, count(*)
       from event e join crowd c on c.person = e.person_id group by 1, 2, 3, 4, 5`,
    );
    await run(
      `insert into hour_count (launch_id, kind, hour, country, source, people, events) select e.launch_id, e.kind, date_trunc('hour', e.at, 'UTC'), e.country, '', 0, count(*)
       from event e join crowd c on c.person = e.person_id group by 1, 2, 3, 4`,
    );
    await run(
      `insert into hour_count (launch_id, kind, hour, country, source, people, events) select r.launch_id, s.kind, date_trunc('hour', s.at, 'UTC'), r.country, '', count(*), 0
       from stage_rollup r join crowd c on c.person = r.person_id
       cross join lateral (values ('visited', visited), ('opted_in', opted_in), ('saw_sales', saw_sales), ('began_checkout', began_checkout), ('paid', paid)) as s(kind, at)
       where s.at is not null group by 1, 2, 3, 4`,
    );
    await run(
      `insert into page_count (launch_id, page, variant, people, opted_in, began, paid) select r.launch_id, r.page, r.variant, count(*), count(r.acted_at), count(s.began_checkout), count(s.paid)
       from page_rollup r join crowd c on c.person = r.person_id join stage_rollup s on s.launch_id = r.launch_id and s.person_id = r.person_id group by 1, 2, 3`,
    );
    await run(
      `create temp table sale as select c.*, gen_random_uuid() as checkout, gen_random_uuid() as charge, gen_random_uuid() as orders, gen_random_uuid() as line, gen_random_uuid() as journal,
         c.at + interval '125 minutes' as paid_at, k.partner, l.main_product_id as product, q.name as product_name
       from crowd c join launch l on l.id = c.launch join product q on q.id = l.main_product_id left join clicks k on k.person = c.person where c.luck < 0.04`,
    );
    await run(
      `insert into checkout (id, visitor_id, launch_id, person_id, contact_id, email, first_name, country, begun_at, last_activity_at, paid_at, recovered_through_email)
       select checkout, visitor, launch, person, contact, 'p' || n || '@scale.example', 'Name', country, at, at, paid_at, false from sale`,
    );
    await run(
      `insert into checkout (id, visitor_id, launch_id, person_id, contact_id, email, first_name, country, begun_at, last_activity_at, recovered_through_email)
       select gen_random_uuid(), visitor, launch, person, contact, 'p' || n || '@scale.example', 'Name', country, at, at, false from crowd where luck >= 0.04 and luck < 0.1`,
    );
    await run(
      `insert into charge (id, idempotency_key, checkout_id, state, amount_minor, currency, items, card, return_url, processor_id, created_at, settled_at)
       select charge, 'scale:' || charge, checkout, 'succeeded', 14900, 'EUR', jsonb_build_array(jsonb_build_object('productId', product, 'role', 'front', 'gross', 14900, 'tax', 2786, 'rateBp', 2300)),
         'card_x', 'http://127.0.0.1', 'ch_' || charge, paid_at, paid_at from sale`,
    );
    await run(
      `insert into sale_order (id, number, launch_id, checkout_id, contact_id, person_id, currency, placed_at, country, card_last4, source, partner_id, credit, recovered, finished_path_at, path_version)
       select orders, nextval('order_number'), launch, checkout, contact, person, 'EUR', paid_at, country, '0003', 'own', partner, '{"rule":"last_touch","windowDays":60,"touches":[]}', false, paid_at,
         (select coalesce(max(version), 0) from path_version v where v.launch_id = launch) from sale`,
    );
    await run(
      `insert into order_line (id, order_id, charge_id, product_id, role, name, net_minor, tax_minor, gross_minor, rate_bp, fee_minor)
       select line, orders, charge, product, 'front', product_name, 12114, 2786, 14900, 2300, 249 from sale`,
    );
    await run("insert into journal (id, kind, order_id, line_id, at) select journal, 'payment', orders, line, paid_at from sale");
    await run(
      `insert into posting (journal_id, position, account, minor, currency) select journal, p.position, p.account, p.minor, 'EUR' from sale
       cross join (values (1, 'processor_clearing', 14651), (2, 'processor_fees', 249), (3, 'sales', -12114), (4, 'tax_payable', -2786)) as p(position, account, minor)`,
    );
    await run(
      `insert into commission (id, line_id, partner_id, level, plan_id, plan_version, rule, base_minor, rate_bp, minor, currency, pending_until)
       select gen_random_uuid(), line, partner, 1, '${partnerRatePlan.id}', ${partnerRatePlan.version}, 'partner_rate', 12114, 4000, 4846, 'EUR', paid_at + interval '35 days' from sale where partner is not null`,
    );
    await run(
      `insert into email_message (id, key, kind, launch_id, contact_id, due_at, state, data, sent_at)
       select gen_random_uuid(), 'welcome:scale:' || contact, 'welcome', launch, contact, at, 'sent', '{}', at from crowd where luck < 0.35`,
    );
    await run(
      "insert into seats_taken (launch_id, n) select launch, count(*) from sale group by 1 on conflict (launch_id) do update set n = seats_taken.n + excluded.n",
    );
    await run("set session_replication_role = default");
    await run("vacuum analyze");
  } finally {
    client.release();
  }
};

/** Signs somebody in without a password; what their cookie holds. */
export const signedIn = async (pool: pg.Pool, kind: "desk" | "partner", subjectId: string): Promise<string> => {
  const token = randomUUID() + randomUUID();
  await pool.query(
    "insert into session (token_hash, kind, subject_id, created_at, seen_at, expires_at) values ($1, $2, $3, now(), now(), now() + interval '1 day')",
    [createHash("sha256").update(token).digest("hex"), kind, subjectId],
  );
  return token;
};

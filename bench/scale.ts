// `npm run bench -- scale [people]`: a launch's crowd loaded by SQL, then every screen of the desk, the files, and a bell.
import { createHash, randomUUID } from "node:crypto";
import { createTransport } from "nodemailer";
import pg from "pg";
import { stopChild } from "../scripts/lib/run.mjs";
import { startStack } from "../tests/support/browserStack";

const median = (values: number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
const percentile = (values: number[], p: number) => [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * p))]!;

/** Loads so many people with what they did: 8 events each, 4 of 100 buy, one of 500 is a partner. Triggers are passed over; what they keep is written. */
const loadCrowd = async (pool: pg.Pool, people: number): Promise<void> => {
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
      `insert into event (launch_id, person_id, kind, at, page, country)
       select launch, person, (array['visited','saw_sales','visited','visited','saw_sales','opted_in','visited','saw_sales'])[k], at + k * interval '7 minutes', 'sales', country
       from crowd cross join generate_series(1, 8) as k where k <> 6 or luck < 0.35`,
    );
    await run(
      `insert into hourly_count (launch_id, hour, kind, n) select launch_id, date_trunc('hour', at), kind, count(*) from event where launch_id = (select launch from crowd limit 1)
       group by 1, 2, 3 on conflict (launch_id, hour, kind) do update set n = excluded.n`,
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
      `insert into commission (line_id, partner_id, base_minor, rate_bp, minor, currency, held_until)
       select line, partner, 12114, 4000, 4846, 'EUR', paid_at + interval '35 days' from sale where partner is not null`,
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

const screens = [
  ...[
    "",
    "/new",
    "/products",
    "/coupons",
    "/tax",
    "/money",
    "/orders",
    "/orders?page=20",
    "/orders?search=p77%40scale",
    "/orders?state=refunded",
    "/waiting",
  ],
  ...["score", "clock", "pages", "pages/sales", "offers", "partners", "markets", "leaks", "retarget", "comments"].map((room) => `/gansey/${room}`),
];

/** Medians of every screen of the desk, in milliseconds, and how long its files take from first to last byte. */
const deskScreens = async (origin: string, pool: pg.Pool): Promise<void> => {
  const token = randomUUID() + randomUUID();
  await pool.query(
    "insert into session (token_hash, kind, subject_id, created_at, seen_at, expires_at) select $1, 'desk', id, now(), now(), now() + interval '30 days' from desk_user where role = 'owner' limit 1",
    [createHash("sha256").update(token).digest("hex")],
  );
  const headers = { cookie: `ib_desk=${token}` };
  const get = async (path: string): Promise<{ ms: number; bytes: number; status: number }> => {
    const began = performance.now();
    const response = await fetch(`${origin}/desk${path}`, { headers });
    const bytes = (await response.arrayBuffer()).byteLength;
    return { ms: performance.now() - began, bytes, status: response.status };
  };
  const [order] = (await pool.query<{ id: string }>("select id from sale_order order by placed_at desc limit 1")).rows;
  console.log("\nScreens of the desk, medians of five (goal 300 ms)");
  for (const path of [...screens, `/orders/${order!.id}`]) {
    const answers: Awaited<ReturnType<typeof get>>[] = [];
    for (let n = 0; n < 5; n += 1) answers.push(await get(path));
    const ms = median(answers.map((answer) => answer.ms));
    console.log(
      `  ${ms > 300 ? "!" : " "} ${`/desk${path}`.replace(order!.id, "…").padEnd(38)} ${ms.toFixed(0).padStart(5)} ms ${(answers[0]!.bytes / 1024).toFixed(0).padStart(6)} KiB${answers[0]!.status === 200 ? "" : `, answered ${answers[0]!.status}`}`,
    );
  }
  console.log("Files, from the first to the last byte");
  for (const path of ["/orders/list.csv", "/gansey/audience-looked.csv", "/gansey/audience-unfinished.csv"]) {
    const { ms, bytes } = await get(path);
    console.log(`    ${`/desk${path}`.padEnd(38)} ${ms.toFixed(0).padStart(5)} ms ${(bytes / 1024).toFixed(0).padStart(6)} KiB`);
  }
  const [partner] = (await pool.query<{ id: string }>("select partner_id as id from commission group by 1 order by count(*) desc limit 1")).rows;
  const own = randomUUID() + randomUUID();
  await pool.query(
    "insert into session (token_hash, kind, subject_id, created_at, seen_at, expires_at) values ($1, 'partner', $2, now(), now(), now() + interval '1 day')",
    [createHash("sha256").update(own).digest("hex"), partner!.id],
  );
  const began = performance.now();
  await (await fetch(`${origin}/partner`, { headers: { cookie: `ib_partner=${own}` } })).text();
  console.log(`    ${"/partner".padEnd(38)} ${(performance.now() - began).toFixed(0).padStart(5)} ms`);
};

/** Begins checkouts of new visitors one after the other until told to stop; how long each took, in milliseconds. */
const checkoutStarts = async (origin: string, running: () => boolean): Promise<number[]> => {
  const times: number[] = [];
  for (let n = 0; running(); n += 1) {
    const body = new URLSearchParams({ email: `${randomUUID()}@start.example`, firstName: "Ada", country: "PT" });
    const began = performance.now();
    const response = await fetch(`${origin}/l/gansey/do/start`, {
      method: "POST",
      body,
      redirect: "manual",
      headers: { origin, cookie: `ib_v=${randomUUID()}` },
    });
    if (response.status !== 303) throw new Error(`a checkout could not be begun: ${response.status}`);
    times.push(performance.now() - began);
    await new Promise((next) => setTimeout(next, 20));
  }
  return times;
};

/** Letters to the whole list at a bell: how many a second, against plain pooled nodemailer; and what beginning a checkout costs meanwhile. */
const atABell = async (origin: string, settings: Record<string, string>, pool: pg.Pool): Promise<void> => {
  let running = true;
  setTimeout(() => (running = false), 6_000);
  const quiet = await checkoutStarts(origin, () => running);
  const inbox = settings["MAIL_INBOX_URL"]!;
  const accepted = async () => ((await (await fetch(`${inbox}/api/count?to=@scale.example`)).json()) as { accepted: number }).accepted;
  const [launch] = (
    await pool.query<{ id: string; settings: { letters: { id: string; hangsOn: string; minutes: number }[] } }>(
      "select id, settings from launch where slug = 'gansey'",
    )
  ).rows;
  const letter = launch!.settings.letters.find(({ hangsOn, minutes }) => hangsOn === "opening" && minutes === 0)!;
  const before = await accepted();
  const began = performance.now();
  const rung = randomUUID();
  // A bell of a moment ago, whose letter is to be queued: the worker finds it as it finds any.
  await pool.query(
    `update launch set settings = jsonb_set(settings, '{clock,opens}', to_jsonb(to_char(now() at time zone zone, 'YYYY-MM-DD"T"HH24:MI'))) where id = $1`,
    [launch!.id],
  );
  await pool.query("select pg_notify('launch_changed', '')");
  await pool.query("insert into bell_rung (id, launch_id, key, at, label, rung_at, outcome) values ($1, $2, $3, now(), 'Letter', now(), '')", [
    rung,
    launch!.id,
    `letter:${letter.id}`,
  ]);
  await pool.query("insert into outbox (topic, payload, key, due_at) values ('queue_letters', $1, $2, now())", [{ id: rung }, `letters:${rung}`]);
  // By themselves first, once they are all queued, then with buyers beside them.
  const queued = async () =>
    (await pool.query<{ done: boolean }>("select queued_at is not null as done from bell_rung where id = $1", [rung])).rows[0]!.done;
  while (!(await queued())) await new Promise((next) => setTimeout(next, 100));
  console.log(`\nAt a bell: all letters are queued after ${((performance.now() - began) / 1000).toFixed(1)} s`);
  const [from, since] = [await accepted(), performance.now()];
  await new Promise((next) => setTimeout(next, 8_000));
  const letters = (await accepted()) - before;
  const perSecond = ((await accepted()) - from) / ((performance.now() - since) / 1000);
  running = true;
  const busy = checkoutStarts(origin, () => running);
  const [beside, besideBegan] = [await accepted(), performance.now()];
  await new Promise((next) => setTimeout(next, 10_000));
  running = false;
  const during = await busy;
  const perSecondBeside = ((await accepted()) - beside) / ((performance.now() - besideBegan) / 1000);
  await pool.query("update email_message set state = 'stopped' where state = 'due' and kind = 'letter'");
  await new Promise((next) => setTimeout(next, 3_000));
  // The plainest thing that does the same: the same mail server, as many connections, and the very letter, ready made.
  const [sample] = (
    (await (await fetch(`${inbox}/api/letters?to=p77@scale.example`)).json()) as { letters: { subject: string; text: string; html: string }[] }
  ).letters;
  const { subject, text, html } = sample ?? {
    subject: "Doors open",
    text: "The doors are open. ".repeat(40),
    html: "<p>The doors are open.</p>".repeat(40),
  };
  const transport = createTransport({ url: settings["SMTP_URL"]!, pool: true, maxConnections: 6, maxMessages: 10_000 });
  const plainBegan = performance.now();
  const count = 2_000;
  await Promise.all(
    Array.from({ length: count }, (_, n) => transport.sendMail({ from: "a@b.example", to: `plain${n}@plain.example`, subject, text, html })),
  );
  const plain = count / ((performance.now() - plainBegan) / 1000);
  transport.close();
  console.log(
    `
At a bell: ${letters} letters in the first seconds, ${perSecond.toFixed(0)} a second; plain pooled nodemailer ${plain.toFixed(0)}; ratio ${(perSecond / plain).toFixed(2)} (goal 0.70). With checkouts beside them ${perSecondBeside.toFixed(0)} a second`,
  );
  console.log(
    `Beginning a checkout: quiet median ${median(quiet).toFixed(0)} ms, p90 ${percentile(quiet, 0.9).toFixed(0)}; while letters go ${median(during).toFixed(0)}, p90 ${percentile(during, 0.9).toFixed(0)} (goal: under twice the quiet time)`,
  );
};

/** Loads the crowd and measures. */
export const scale = async (people: number): Promise<void> => {
  const stack = await startStack("ink_bell_scale");
  const pool = new pg.Pool({ connectionString: stack.settings["DATABASE_URL"] });
  const began = performance.now();
  await loadCrowd(pool, people);
  const { rows } = await pool.query<Record<string, string>>(
    "select (select count(*) from person) as people, (select count(*) from event) as events, (select count(*) from sale_order) as orders, (select count(*) from partner) as partners",
  );
  const { people: n, events, orders, partners } = rows[0]!;
  console.log(
    `\nLoaded in ${((performance.now() - began) / 1000).toFixed(0)} s: ${n} people, ${events} events, ${orders} orders, ${partners} partners`,
  );
  const child = await stack.start();
  await deskScreens(stack.origin, pool);
  await atABell(stack.origin, stack.settings, pool);
  await stopChild(child);
  await pool.end();
  await stack.stopStandins();
};

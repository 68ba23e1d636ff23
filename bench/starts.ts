// Opt-ins and beginnings of checkouts beside the same rows written by hand, with 64 visitors at once.
import { randomUUID } from "node:crypto";
import pg from "pg";
import { subscribeAll } from "../src/server/reactions";
import { submitForm } from "../src/server/site/submit";
import { theApp } from "../src/server/platform/app";
import { Launch } from "../src/store/tables";
import { inTransaction, report, timed, type Query } from "./byHand";

const rounds = 3;
const atOnce = 64;

interface Visit {
  visitor: string;
  email: string;
}
const visits = (): Visit[] => Array.from({ length: 400 }, () => ({ visitor: randomUUID(), email: `${randomUUID()}@start.example` }));

/** The limits of a sender, the person with browser and address, and what they did in log and roll-ups. */
const personByHand = async (
  query: Query,
  launch: string,
  { visitor, email }: Visit,
  kind: "opted_in" | "began_checkout",
  page: string,
): Promise<string> => {
  const contact = randomUUID();
  const now = new Date();
  const day = now.toISOString().slice(0, 10);
  await query("insert into person (id, created_at) values ($1, $2)", [visitor, now]);
  await query("insert into visitor (id, person_id, first_seen_at) values ($1, $1, $2)", [visitor, now]);
  await query(
    "insert into contact (id, person_id, email, first_name, consent_text, consent_at, created_at) values ($1, $2, $3, 'Ada', 'Yes.', $4, $4)",
    [contact, visitor, email, now],
  );
  await query("insert into event (launch_id, person_id, visitor_id, kind, at, page, data) values ($1, $2, $2, $3, $4, $5, '{}')", [
    launch,
    visitor,
    kind,
    now,
    page,
  ]);
  await query(`insert into stage_rollup (launch_id, person_id, visited, ${kind}) values ($1, $2, $3, $3)`, [launch, visitor, now]);
  await query("insert into day_rollup (launch_id, person_id, kind, page, day, n) values ($1, $2, $3, $4, $5, 1)", [launch, visitor, kind, page, day]);
  await query("insert into page_rollup (launch_id, page, person_id, variant, seen_at, acted_at) values ($1, $2, $3, 'A', $4, $4)", [
    launch,
    page,
    visitor,
    now,
  ]);
  return contact;
};

const limitsByHand = async (pool: pg.Pool, keys: string[]): Promise<void> => {
  for (const key of keys)
    await pool.query(
      "insert into rate_limit (key, from_at, tries) values ($1, date_trunc('hour', now()), 1) on conflict (key) do update set tries = rate_limit.tries + 1",
      [key],
    );
};

const emailByHand = (query: Query, kind: string, launch: string, contact: string, checkout?: string) =>
  query(
    "insert into email_message (id, key, kind, launch_id, contact_id, checkout_id, due_at, data) values ($1, $2, $3, $4, $5, $6, now() + interval '1 hour', '{}')",
    [randomUUID(), `${kind}:${contact}`, kind, launch, contact, checkout ?? null],
  );

const optInByHand = async (pool: pg.Pool, launch: string, visit: Visit): Promise<void> => {
  await limitsByHand(pool, [`hand:${visit.visitor}`, "hand:from", `hand-to:${visit.email}`]);
  await inTransaction(pool, async (query) => {
    await query("select 1 from contact where email = $1", [visit.email]);
    const contact = await personByHand(query, launch, visit, "opted_in", "optin");
    await query(
      "insert into opt_in (id, launch_id, contact_id, page, form, visitor_id, consent_text, asked_at, confirmed_at) values ($1, $2, $3, 'optin', 'form', $4, 'Yes.', now(), now())",
      [randomUUID(), launch, contact, visit.visitor],
    );
    await emailByHand(query, "welcome", launch, contact);
  });
};

const startByHand = async (pool: pg.Pool, launch: string, product: string, visit: Visit): Promise<void> => {
  await limitsByHand(pool, [`hand:${visit.visitor}`, "hand:from"]);
  await inTransaction(pool, async (query) => {
    await query("select 1 from contact where email = $1", [visit.email]);
    const contact = await personByHand(query, launch, visit, "began_checkout", "checkout");
    await query("select n from seats_taken where launch_id = $1", [launch]);
    await query(
      "select sum(n.quantity) from order_line n join sale_order s on s.id = n.order_id where s.launch_id = $1 and n.product_id = $2 and not s.test",
      [launch, product],
    );
    const checkout = randomUUID();
    await query(
      `insert into checkout (id, visitor_id, launch_id, person_id, contact_id, email, first_name, country, begun_at, last_activity_at, recovered_through_email, price_hold_minor, price_hold_until)
       values ($1, $2, $3, $2, $4, $5, 'Ada', 'PT', now(), now(), false, 14900, now() + interval '15 minutes')`,
      [checkout, visit.visitor, launch, contact, visit.email],
    );
    await emailByHand(query, "recovery", launch, contact, checkout);
  });
};

/** Opt-ins and beginnings of checkouts a second, from the form that was sent to the answer, 64 at once. */
export const starts = async (settings: Record<string, string>): Promise<void> => {
  const app = await theApp({ ...settings, INKBELL_LOG: "error" });
  subscribeAll();
  const em = app.fork();
  const launch = await em.findOneOrFail(Launch, { slug: "gansey" });
  await em.execute(`update launch set settings = settings || '{"seats": 1000000}' where id = ?`, [launch.id]);
  const pool = new pg.Pool({ connectionString: settings["DATABASE_URL"], max: 20 });
  const send = async ({ visitor, email }: Visit, action: string, values: Record<string, string>) => {
    const form = { firstName: "Ada", email, ...values };
    const answer = await submitForm(app, { slug: "gansey", action, values: form, from: visitor, visitorId: visitor, known: true });
    if (answer.status !== 303) throw new Error(`${action} was answered with ${answer.status}`);
  };
  const optIn = (visit: Visit) => send(visit, "opt-in", { consent: "yes", page: "optin", shownAt: "0" });
  const start = (visit: Visit) => send(visit, "start", { country: "PT" });
  const warm = visits();
  for (const [title, ours, hand] of [
    ["Opt-ins", optIn, (visit: Visit) => optInByHand(pool, launch.id, visit)],
    ["Checkouts begun", start, (visit: Visit) => startByHand(pool, launch.id, launch.mainProductId, visit)],
  ] as const) {
    // The first of them find nothing compiled and nothing planned.
    await timed(atOnce, async (n) => ours(warm[n]!));
    const found: [number, number][] = [];
    const slowest: number[] = [];
    for (let round = 0; round < rounds; round += 1) {
      const [a, b] = [visits(), visits()];
      const own = await timed(atOnce, (n) => ours(a[n]!));
      found.push([own.perSecond, (await timed(atOnce, (n) => hand(b[n]!))).perSecond]);
      slowest.push(own.p99);
    }
    report(
      `${title}, from the form to its answer, against the same rows in hand-written SQL (${atOnce} visitors at once, ${rounds} rounds in turn)`,
      found,
    );
    console.log(`  99 of 100 within ${Math.max(...slowest).toFixed(0)} ms`);
  }
  await pool.end();
  await app.stop();
};

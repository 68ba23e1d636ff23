// The order transaction beside the same rows written by hand.
import { randomUUID } from "node:crypto";
import pg from "pg";
import { theApp } from "../src/server/app/app";
import { applyResult } from "../src/server/offers/applyResult";
import { Charge, Checkout, Launch } from "../src/store/entities";

const median = (values: number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;

const orders = 400;
const workers = 8;
const inParallel = async (work: (n: number) => Promise<void>): Promise<number> => {
  const began = performance.now();
  let next = 0;
  const run = async () => {
    for (let n = next++; n < orders; n = next++) await work(n);
  };
  await Promise.all(Array.from({ length: workers }, run));
  return orders / ((performance.now() - began) / 1000);
};

/** The same rows as an order leaves, written by hand through one pooled connection each. */
const handWritten = async (pool: pg.Pool, launch: Launch, contact: { id: string; person: string; visitor: string }): Promise<void> => {
  const client = await pool.connect();
  const [checkout, charge, order, line, journal] = Array.from({ length: 5 }, () => randomUUID());
  const now = new Date();
  try {
    await client.query("begin");
    await client.query(
      "insert into checkout (id, visitor_id, launch_id, person_id, contact_id, email, first_name, country, begun_at, last_activity_at, paid_at) values ($1,$2,$3,$4,$5,'b@wool.example','B','PT',$6,$6,$6)",
      [checkout, contact.visitor, launch.id, contact.person, contact.id, now],
    );
    await client.query(
      "insert into charge (id, idempotency_key, checkout_id, state, amount_minor, currency, items, card, return_url, created_at, settled_at) values ($1,$2,$3,'succeeded',14900,'EUR',jsonb_build_array(jsonb_build_object('productId',$4::uuid,'role','front','gross',14900,'tax',2786,'rateBp',2300)),'tok','x',$5,$5)",
      [charge, randomUUID(), checkout, launch.mainProductId, now],
    );
    await client.query(
      "insert into sale_order (id, launch_id, checkout_id, contact_id, person_id, currency, placed_at, country, source, credit) values ($1,$2,$3,$4,$5,'EUR',$6,'PT','own','{}')",
      [order, launch.id, checkout, contact.id, contact.person, now],
    );
    await client.query(
      "insert into order_line (id, order_id, charge_id, product_id, role, name, net_minor, tax_minor, gross_minor, rate_bp, fee_minor) values ($1,$2,$3,$4,'front','W',12114,2786,14900,2300,249)",
      [line, order, charge, launch.mainProductId],
    );
    await client.query("insert into journal (id, kind, order_id, line_id, at) values ($1,'payment',$2,$3,$4)", [journal, order, line, now]);
    await client.query(
      "insert into posting (journal_id, position, account, minor, currency) values ($1,0,'processor_clearing',14651,'EUR'),($1,1,'processor_fees',249,'EUR'),($1,2,'sales',-12114,'EUR'),($1,3,'tax_payable',-2786,'EUR')",
      [journal],
    );
    await client.query("insert into event (launch_id, person_id, kind, at, page, country) values ($1,$2,'paid',$3,'checkout','PT')", [
      launch.id,
      contact.person,
      now,
    ]);
    await client.query(
      "insert into stage_rollup (launch_id, person_id, visited, paid) values ($1,$2,$3,$3) on conflict (launch_id, person_id) do update set paid = least(stage_rollup.paid, excluded.paid)",
      [launch.id, contact.person, now],
    );
    await client.query("insert into email_message (id, key, kind, launch_id, contact_id, due_at, data) values ($1,$2,'receipt',$3,$4,$5,'{}')", [
      randomUUID(),
      randomUUID(),
      launch.id,
      contact.id,
      now,
    ]);
    await client.query("insert into outbox (topic, payload, key, due_at) values ('send_email','{}',$1,$2)", [
      randomUUID(),
      new Date(now.getTime() + 9e5),
    ]);
    await client.query("commit");
  } finally {
    client.release();
  }
};

export const orderTransaction = async (settings: Record<string, string>): Promise<void> => {
  const app = await theApp({ ...settings, INKBELL_LOG: "error" });
  const em = app.fork();
  const launch = await em.findOneOrFail(Launch, { slug: "gansey" });
  const pool = new pg.Pool({ connectionString: settings["DATABASE_URL"], max: workers });
  const people = await em.execute<{ id: string; person: string; visitor: string }[]>(
    `select c.id, c.person_id as person, v.id as visitor from contact c join visitor v on v.person_id = c.person_id limit ${orders}`,
  );
  const prepare = async () => {
    const charges: string[] = [];
    const fork = app.fork();
    for (let n = 0; n < orders; n += 1) {
      const who = people[n % people.length]!;
      const now = new Date();
      const checkout = fork.create(Checkout, {
        id: randomUUID(),
        visitorId: who.visitor,
        launchId: launch.id,
        personId: who.person,
        contactId: who.id,
        email: "b@wool.example",
        firstName: "B",
        country: "PT",
        begunAt: now,
        lastActivityAt: now,
        recoveredThroughEmail: false,
      });
      const charge = fork.create(Charge, {
        id: randomUUID(),
        idempotencyKey: randomUUID(),
        checkoutId: checkout.id,
        state: "pending",
        amountMinor: 14_900,
        currency: "EUR",
        items: [{ productId: launch.mainProductId, role: "front", gross: 14_900, tax: 2_786, rateBp: 2_300 }],
        card: "tok",
        returnUrl: "x",
        createdAt: now,
      });
      await fork.persist(checkout).flush();
      await fork.persist(charge).flush();
      charges.push(charge.id);
    }
    return charges;
  };
  const rounds: [number, number][] = [];
  for (let round = 0; round < 3; round += 1) {
    const charges = await prepare();
    const keys = new Map((await app.fork().find(Charge, { id: { $in: charges } })).map((charge) => [charge.id, charge.idempotencyKey]));
    const ours = await inParallel(async (n) => {
      const id = charges[n]!;
      await applyResult(app, id, {
        id: `ch_${id}`,
        status: "succeeded",
        idempotency_key: keys.get(id)!,
        amount: 14_900,
        currency: "EUR",
        fee: 249,
        card: "card_1",
        last4: "0003",
      });
    });
    rounds.push([ours, await inParallel((n) => handWritten(pool, launch, people[n % people.length]!))]);
  }
  console.log(`\nOrder transaction against the same rows in hand-written SQL (${orders} orders, ${workers} at a time, 3 rounds in turn)`);
  for (const [ours, hand] of rounds) console.log(`  app ${ours.toFixed(0)}/s   by hand ${hand.toFixed(0)}/s   ratio ${(ours / hand).toFixed(2)}`);
  console.log(`  median ratio ${median(rounds.map(([ours, hand]) => ours / hand)).toFixed(2)} (goal 0.50)`);
  await pool.end();
  await app.stop();
};

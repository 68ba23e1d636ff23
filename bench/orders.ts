// The order transaction beside the same rows written by hand.
import { subscribeAll } from "../src/server/reactions";
import { launchesOf } from "../src/server/launch/launchCache";
import { randomUUID } from "node:crypto";
import pg from "pg";
import { theApp } from "../src/server/platform/app";
import type { CardProcessor, ChargeResult } from "../src/outside/cardProcessor";
import type { App } from "../src/server/platform/app";
import { applyResult } from "../src/server/payments/applyResult";
import { payCheckout } from "../src/server/checkout/paying";
import { Charge, Checkout, Launch } from "../src/store/tables";
import { inTransaction, perSecond, pieces as orders, report } from "./byHand";

const rounds = 3;

interface Buyer {
  id: string;
  person: string;
  visitor: string;
  email: string;
}
interface Sale {
  checkout: string;
  charge: string;
  key: string;
  launch: Launch;
  buyer: Buyer;
}
const itemsOf = (productId: string): Charge["items"] => [{ productId, role: "front", gross: 14_900, tax: 2_786, rateBp: 2_300 }];

/** The rows of an order that is paid, each written by hand. */
const orderByHand = async (pool: pg.Pool, { checkout, charge, launch, buyer }: Sale): Promise<void> => {
  const [order, line, journal] = Array.from({ length: 3 }, () => randomUUID());
  const now = new Date();
  await inTransaction(pool, async (query) => {
    await query("update charge set state = 'succeeded', processor_id = $2, settled_at = $3 where id = $1 and state = 'pending'", [
      charge,
      `ch_${charge}`,
      now,
    ]);
    await query("update checkout set paid_at = $2 where id = $1", [checkout, now]);
    await query(
      "insert into sale_order (id, launch_id, checkout_id, contact_id, person_id, currency, placed_at, country, source, credit) values ($1,$2,$3,$4,$5,'EUR',$6,'PT','own','{}')",
      [order, launch.id, checkout, buyer.id, buyer.person, now],
    );
    await query(
      "insert into order_line (id, order_id, charge_id, product_id, role, name, net_minor, tax_minor, gross_minor, rate_bp, fee_minor) values ($1,$2,$3,$4,'front','W',12114,2786,14900,2300,249)",
      [line, order, charge, launch.mainProductId],
    );
    await query("insert into journal (id, kind, order_id, line_id, at) values ($1,'payment',$2,$3,$4)", [journal, order, line, now]);
    await query(
      "insert into posting (journal_id, position, account, minor, currency) values ($1,0,'processor_clearing',14651,'EUR'),($1,1,'processor_fees',249,'EUR'),($1,2,'sales',-12114,'EUR'),($1,3,'tax_payable',-2786,'EUR')",
      [journal],
    );
    await query("insert into event (launch_id, person_id, kind, at, page, country) values ($1,$2,'paid',$3,'checkout','PT')", [
      launch.id,
      buyer.person,
      now,
    ]);
    await query(
      "insert into stage_rollup (launch_id, person_id, visited, paid) values ($1,$2,$3,$3) on conflict (launch_id, person_id) do update set paid = least(stage_rollup.paid, excluded.paid)",
      [launch.id, buyer.person, now],
    );
    await query("insert into email_message (id, key, kind, launch_id, contact_id, due_at, data) values ($1,$2,'receipt',$3,$4,$5,'{}')", [
      randomUUID(),
      randomUUID(),
      launch.id,
      buyer.id,
      now,
    ]);
  });
};

/** A checkout that is paid by hand: the charge written down with a seat taken last, then the order. */
const checkoutByHand = async (pool: pg.Pool, sale: Sale): Promise<void> => {
  const { checkout, charge, key, launch, buyer } = sale;
  await inTransaction(pool, async (query) => {
    await query("select 1 from checkout where id = $1 for update", [checkout]);
    await query("select count(*) from charge where checkout_id = $1 and state <> 'declined'", [checkout]);
    await query("update checkout set email = $2, last_activity_at = $3 where id = $1", [checkout, buyer.email, new Date()]);
    await query(
      "insert into charge (id, idempotency_key, checkout_id, state, amount_minor, currency, items, card, return_url, created_at) values ($1,$2,$3,'pending',14900,'EUR',$4,'tok','x',$5)",
      [charge, key, checkout, JSON.stringify(itemsOf(launch.mainProductId)), new Date()],
    );
    await query("insert into outbox (topic, payload, key, due_at) values ('settle_charge','{}',$1,$2)", [randomUUID(), new Date(Date.now() + 2e4)]);
  });
  await orderByHand(pool, sale);
};

/** Checkouts that wait to be paid, with their charge begun or not. */
const prepare = async (app: App, launch: Launch, buyers: Buyer[], begun: boolean): Promise<Sale[]> => {
  const em = app.fork();
  const now = new Date();
  const sales = Array.from({ length: orders }, (_, n): Sale => {
    const charge = randomUUID();
    return { checkout: randomUUID(), charge, key: `bench:${charge}`, launch, buyer: buyers[n % buyers.length]! };
  });
  for (const { checkout, buyer } of sales) {
    em.persist(
      em.create(Checkout, {
        id: checkout,
        visitorId: buyer.visitor,
        launchId: launch.id,
        personId: buyer.person,
        contactId: buyer.id,
        email: buyer.email,
        firstName: "B",
        country: "PT",
        begunAt: now,
        lastActivityAt: now,
        recoveredThroughEmail: false,
      }),
    );
  }
  await em.flush();
  if (!begun) return sales;
  for (const { checkout, charge, key } of sales) {
    const row = {
      id: charge,
      idempotencyKey: key,
      checkoutId: checkout,
      amountMinor: 14_900,
      currency: "EUR",
      items: itemsOf(launch.mainProductId),
    };
    em.persist(em.create(Charge, { ...row, state: "pending", card: "tok", returnUrl: "x", createdAt: now }));
  }
  await em.flush();
  return sales;
};

const paid = (sale: Pick<Sale, "key">, amount = 14_900): ChargeResult => ({
  id: `ch_${sale.key}`,
  status: "succeeded",
  idempotency_key: sale.key,
  amount,
  currency: "EUR",
  fee: 249,
  card: "card_1",
  last4: "0003",
});

/** A processor that answers at once: what is measured is ours. */
const instantly: CardProcessor = {
  fieldUrl: "http://127.0.0.1/field",
  charge: ({ amount }, key) => Promise.resolve(paid({ key }, amount)),
  chargeById: () => Promise.reject(new Error("not asked here")),
  capture: () => Promise.reject(new Error("not asked here")),
  voidCharge: () => Promise.reject(new Error("not asked here")),
  refund: () => Promise.reject(new Error("not asked here")),
};

/** Orders per second: of charges that have succeeded, and of whole checkouts with 64 buyers at one counter of seats. */
export const orderTransaction = async (settings: Record<string, string>): Promise<void> => {
  const app = await theApp({ ...settings, INKBELL_LOG: "error" });
  subscribeAll();
  app.cards = { ...app.cards, for: () => instantly };
  const em = app.fork();
  const launch = await em.findOneOrFail(Launch, { slug: "gansey" });
  // Seats for all of them: the database lets nobody through beyond the last.
  await em.execute(`update launch set settings = settings || '{"seats": 1000000}' where id = ?`, [launch.id]);
  const buyers = await em.execute<Buyer[]>(
    `select c.id, c.email, c.person_id as person, v.id as visitor from contact c join visitor v on v.person_id = c.person_id where not c.test limit ${orders}`,
  );
  const pool = new pg.Pool({ connectionString: settings["DATABASE_URL"], max: 20 });
  const found: [number, number][] = [];
  for (let round = 0; round < rounds; round += 1) {
    const [ours, hand] = [await prepare(app, launch, buyers, true), await prepare(app, launch, buyers, true)];
    found.push([
      await perSecond(8, (n) => applyResult(app, ours[n]!.charge, paid(ours[n]!))),
      await perSecond(8, (n) => orderByHand(pool, hand[n]!)),
    ]);
  }
  report(`Order transaction against the same rows in hand-written SQL (${orders} orders, 8 at a time, ${rounds} rounds in turn)`, found);

  const context = (await launchesOf(app).bySlug("gansey"))!;
  const pay = ({ checkout, buyer }: Sale, n: number) => {
    const request = { checkout, email: buyer.email, firstName: "B", country: "PT", cardToken: "tok", waiver: "yes" as const, terms: "yes" as const };
    return payCheckout(app, app.fork(), context, request, { visitorId: buyer.visitor, from: `bench-${n}` });
  };
  const crowded: [number, number][] = [];
  for (let round = 0; round < rounds; round += 1) {
    const [ours, hand] = [await prepare(app, launch, buyers, false), await prepare(app, launch, buyers, false)];
    crowded.push([await perSecond(64, (n) => pay(ours[n]!, n)), await perSecond(64, (n) => checkoutByHand(pool, hand[n]!))]);
  }
  report(`A checkout from the press to its order, 64 buyers at one counter of seats, against the same in hand-written SQL`, crowded);
  await pool.end();
  await app.stop();
};

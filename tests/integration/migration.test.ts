import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import pg from "pg";
import { headlineOf, pageContent, pageGaps, plainOf, firstBlock } from "../../src/core/pages";
import { closeOrm, orm } from "../../src/store/orm";
import { databaseUrl } from "../../scripts/lib/postgres.mjs";

const name = `ink_bell_migration_${randomUUID().slice(0, 8)}`;
const maintenance = process.env["TEST_DATABASE_URL"]!;
const kinds = ["optin", "sales", "checkout", "offer", "thanks", "closed", "content"] as const;
let client: pg.Client;

beforeAll(async () => {
  const admin = new pg.Client(maintenance);
  await admin.connect();
  await admin.query(`create database ${name}`);
  await admin.end();
  client = new pg.Client(databaseUrl(maintenance, name));
  await client.connect();
});
afterAll(async () => {
  await closeOrm();
  await client.end();
});

describe("pages of three words, as they were before blocks", () => {
  it("become pages of blocks that say the same and lack nothing, whatever stands in them", async () => {
    const migrator = (await orm(databaseUrl(maintenance, name))).getMigrator();
    await migrator.up({ to: "0002_clock" });
    const [product, launch] = [randomUUID(), randomUUID()];
    await client.query(
      "insert into product (id, name, private_label, tax_class, refund_days, description, price_minor, currency, tax_mode) values ($1, 'P', 'P', 'standard', 30, '', 100, 'EUR', 'inclusive')",
      [product],
    );
    await client.query(
      "insert into launch (id, slug, name, zone, main_product_id, credit_window_days, recovery_delay_minutes, created_at, settings) values ($1, 'old', 'Old', 'Europe/Lisbon', $2, 60, 30, now(), '{}')",
      [launch, product],
    );
    const words = { headline: 'What\'s "in" it? 100 %', text: "First: does it work?\n\nYes; it's ready.", button: "Go on?" };
    for (const kind of kinds)
      await client.query("insert into page (id, launch_id, kind, key, slug, draft, published) values ($1, $2, $3, $3, $3, $4, $5)", [
        randomUUID(),
        launch,
        kind,
        words,
        kind === "sales" ? words : null,
      ]);
    await migrator.up({ to: "0021_counting" });
    const { rows } = await client.query<{ kind: (typeof kinds)[number]; draft: unknown; published: unknown; compiled: unknown }>(
      "select kind, draft, published, compiled from page",
    );
    expect(rows.map(({ kind }) => kind).sort()).toEqual([...kinds].sort());
    const source = { slug: "old", shape: "full" as const, pages: kinds.map((kind) => ({ key: kind, kind, slug: kind })) };
    for (const { kind, draft, published, compiled } of rows) {
      const content = pageContent.parse(draft);
      expect(headlineOf(content)).toBe(words.headline);
      expect(plainOf(firstBlock(content, "text")!.rich)).toBe("First: does it work?\nYes; it's ready.");
      expect(JSON.stringify(content)).toContain("Go on?");
      expect(
        pageGaps(content, { key: kind, kind, source, launches: ["old"] }).filter(({ blocking }) => blocking),
        kind,
      ).toEqual([]);
      expect(compiled).toBeNull();
      expect(published === null).toBe(kind !== "sales");
    }
  });
});

describe("payments that were begun before their states had the names of the trade", () => {
  it("keep what they are: no seat is taken or given back, and work that waits goes on", async () => {
    const [person, launch, product] = [randomUUID(), randomUUID(), randomUUID()];
    await client.query(
      "insert into product (id, name, private_label, tax_class, refund_days, description, price_minor, currency, tax_mode, holds) values ($1, 'Q', 'Q', 'standard', 30, '', 100, 'EUR', 'inclusive', $2)",
      [product, [(await client.query<{ id: string }>("select id from product where name = 'P'")).rows[0]!.id]],
    );
    await client.query(
      "insert into launch (id, slug, name, zone, main_product_id, credit_window_days, recovery_delay_minutes, created_at, settings) values ($1, 'sells', 'S', 'Europe/Lisbon', $2, 60, 30, now(), '{}')",
      [launch, product],
    );
    await client.query("insert into person (id, created_at) values ($1, now())", [person]);
    for (const state of ["authorised", "released", "succeeded", "declined"]) {
      const checkout = randomUUID();
      await client.query(
        "insert into checkout (id, visitor_id, launch_id, person_id, begun_at, last_activity_at, held_minor) values ($1, $1, $2, $3, now(), now(), 90)",
        [checkout, launch, person],
      );
      await client.query(
        "insert into charge (id, idempotency_key, checkout_id, state, held, amount_minor, currency, items, card, return_url, created_at) values ($1, $2, $1, $3, true, 100, 'EUR', $4, '', '', now())",
        [checkout, `pay:${checkout}`, state, JSON.stringify([{ role: "front", productId: product, gross: 100, quantity: 1 }])],
      );
    }
    await client.query(
      "insert into outbox (topic, payload, key, due_at) values ('take_held', '{}', 'x', now()), ('settle_charge', '{}', 'y', now())",
    );
    const seats = async () => (await client.query<{ n: string }>("select n from seats_taken where launch_id = $1", [launch])).rows[0]!.n;
    const before = await seats();
    await (await orm(databaseUrl(maintenance, name))).getMigrator().up({ to: "0025_retention" });
    expect(await seats()).toBe(before);
    const { rows } = await client.query<{ state: string; capture_later: boolean; price_hold_minor: string }>(
      "select g.state, g.capture_later, k.price_hold_minor from charge g join checkout k on k.id = g.checkout_id order by g.state",
    );
    expect(rows.map(({ state }) => state)).toEqual(["authorized", "declined", "succeeded", "voided"]);
    expect(rows.every((row) => row.capture_later && Number(row.price_hold_minor) === 90)).toBe(true);
    const { rows: waiting } = await client.query<{ topic: string }>("select topic from outbox order by key");
    expect(waiting.map(({ topic }) => topic)).toEqual(["capture_payment", "settle_charge"]);
    // From then on a payment that is voided gives its seat back, and a line keeps what its bundle contained.
    await client.query("update charge set state = 'voided' where state = 'authorized'");
    expect(Number(await seats())).toBe(Number(before) - 1);
    const { rows: parts } = await client.query<{ parts: { name: string }[] }>("select parts_of($1) as parts", [product]);
    expect(parts[0]!.parts.map(({ name: part }) => part)).toEqual(["P"]);
  });
});

describe("commissions of before they had a key of their own", () => {
  it("know their plan, and the rule that made them; and their journals know them", async () => {
    const [partner, contact, person, order, visitor] = [randomUUID(), randomUUID(), randomUUID(), randomUUID(), randomUUID()];
    const { rows: known } = await client.query<{ launch: string; product: string }>(
      "select l.id as launch, p.id as product from launch l, product p where l.slug = 'sells' order by p.name",
    );
    const { launch } = known[0]!;
    await client.query("insert into partner (id, email, name, password_hash, code, rate_bp) values ($1, 'p@x.example', 'P', '', 'gannet', 4000)", [
      partner,
    ]);
    await client.query("insert into person (id, created_at) values ($1, now())", [person]);
    await client.query("insert into contact (id, person_id, email, first_name, created_at) values ($1, $2, 'b@x.example', 'B', now())", [
      contact,
      person,
    ]);
    await client.query("insert into visitor (id, person_id, first_seen_at) values ($1, $2, now())", [visitor, person]);
    await client.query(
      "insert into sale_order (id, launch_id, contact_id, person_id, currency, placed_at, country, source, partner_id, credit) values ($1, $2, $3, $4, 'EUR', now(), 'PT', 'own', $5, '{}')",
      [order, launch, contact, person, partner],
    );
    const lines: { line: string; journal: string; rate: number }[] = [];
    for (const [index, [role, rate]] of [["front", 4_000] as const, ["bump", 6_000] as const].entries()) {
      const [line, journal] = [randomUUID(), randomUUID()];
      await client.query(
        "insert into order_line (id, order_id, product_id, role, name, net_minor, tax_minor, gross_minor, rate_bp, fee_minor) values ($1, $2, $3, $4, 'Q', 100, 0, 100, 0, 0)",
        [line, order, known[index]!.product, role],
      );
      await client.query(
        "insert into commission (line_id, partner_id, base_minor, rate_bp, minor, currency, pending_until) values ($1, $2, 100, $3, 40, 'EUR', now())",
        [line, partner, rate],
      );
      await client.query("insert into journal (id, kind, order_id, line_id, at) values ($1, 'commission', $2, $3, now())", [journal, order, line]);
      lines.push({ line, journal, rate });
    }
    await (await orm(databaseUrl(maintenance, name))).getMigrator().up({ to: "0026_commissions" });
    const { rows } = await client.query<{ line_id: string; rule: string; level: number; plan: string; journal: string }>(
      `select c.line_id, c.rule, c.level, p.name as plan, j.id as journal from commission c
       join commission_plan p on p.id = c.plan_id and p.version = c.plan_version join journal j on j.commission_id = c.id`,
    );
    const expected = lines.map(({ line, journal, rate }) => ({
      line_id: line,
      rule: rate > 4_000 ? "featured_day" : "partner_rate",
      level: 1,
      plan: "Each partner's own rate",
      journal,
    }));
    expect(rows.sort((a, b) => a.line_id.localeCompare(b.line_id))).toEqual(expected.sort((a, b) => a.line_id.localeCompare(b.line_id)));
    // The ledger is as closed as before.
    await expect(client.query("update journal set about_id = null")).rejects.toThrow("append-only");
  });
});

describe("bells that were run before they said what they were of", () => {
  it("know their email and their window", async () => {
    const { rows: known } = await client.query<{ id: string }>("select id from launch where slug = 'sells'");
    const keys = { "letter:last-hours@2026-11-20T18:00:00.000Z": 1, "letter:one": 2, "opening@2026-11-20T18:00:00.000Z": 3, run_up: 4 };
    for (const [key, day] of Object.entries(keys))
      await client.query("insert into bell_run (id, launch_id, key, at, label, ran_at, outcome) values ($1, $2, $3, $4, '', now(), '')", [
        randomUUID(),
        known[0]!.id,
        key,
        `2026-11-2${day}T00:00:00Z`,
      ]);
    await client.query(`update launch set settings = settings || '{"letters": [{"id": "one"}]}'`);
    const { rows: contacts } = await client.query<{ id: string }>("select id from contact limit 1");
    await client.query(
      "insert into email_message (id, key, kind, launch_id, contact_id, due_at, data) values ($1, 'letter:x:one::y', 'letter', $2, $3, now(), $4)",
      [randomUUID(), known[0]!.id, contacts[0]!.id, { letter: "one", opens: "2026-11-20T18:00:00.000Z" }],
    );
    await (await orm(databaseUrl(maintenance, name))).getMigrator().up();
    const { rows } = await client.query<{ email_id: string | null; opens: Date | null }>("select email_id, opens from bell_run order by at");
    const opens = new Date("2026-11-20T18:00:00Z");
    expect(rows).toEqual([
      { email_id: "last-hours", opens },
      { email_id: "one", opens: null },
      { email_id: null, opens },
      { email_id: null, opens: null },
    ]);
    expect((await client.query("select key from bell_run order by at limit 2")).rows).toEqual([
      { key: "email:last-hours@2026-11-20T18:00:00.000Z" },
      { key: "email:one" },
    ]);
    // What hung on them as a letter is an email of a bell.
    expect((await client.query("select key, data, bulk from email_message where kind = 'bell'")).rows).toEqual([
      { key: "bell:x:one::y", data: { email: "one", opens: "2026-11-20T18:00:00.000Z" }, bulk: true },
    ]);
    const { rows: launches } = await client.query<{ settings: object }>("select settings from launch");
    for (const { settings } of launches) {
      expect(settings).toHaveProperty("emails", [{ id: "one", time: null }]);
      expect(settings).not.toHaveProperty("letters");
    }
  });
});

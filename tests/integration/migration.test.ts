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
    await migrator.up();
    const { rows } = await client.query<{ kind: (typeof kinds)[number]; draft: unknown; published: unknown; compiled: unknown }>(
      "select kind, draft, published, compiled from page",
    );
    expect(rows.map(({ kind }) => kind).sort()).toEqual([...kinds].sort());
    const way = { slug: "old", shape: "full" as const, pages: kinds.map((kind) => ({ key: kind, kind, slug: kind })) };
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

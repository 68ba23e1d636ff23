import pg from "pg";
import { closeOrm, migrate } from "../../src/store/orm";
import { databaseUrl } from "../../scripts/lib/postgres.mjs";

/** Runs beside one another each have their own. */
export const templateName = process.env["TEST_TEMPLATE"] ?? "ink_bell_template";

/** Migrates one template database; each test file copies it. */
export default async function setup(): Promise<void> {
  const url = process.env["TEST_DATABASE_URL"];
  if (!url) throw new Error("TEST_DATABASE_URL is not set: run the tests with `npm test -- --only integration`.");
  const admin = new pg.Client({ connectionString: url });
  await admin.connect();
  await admin.query(`drop database if exists ${templateName} with (force)`);
  await admin.query(`create database ${templateName}`);
  await admin.end();
  await migrate(databaseUrl(url, templateName));
  await closeOrm();
}

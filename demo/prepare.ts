// Makes the database where it is missing, migrates it, and seeds the demo into an empty one; the card processor's stand-in, which
// must not be running, is told of the payments. Arguments: a database to connect to, `demo`, `fresh` or `empty`, the stand-ins' folder.
import { rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import pg from "pg";
import { rememberPayments } from "../standins/card-desk/past";
import { diskFiles } from "../src/outside/fileStore";
import { openWayIn } from "../src/server/settings/firstOwner";
import { Launch, Vendor } from "../src/store/tables";
import { closeOrm, migrate, orm } from "../src/store/orm";
import { seedDemo, seedVendor } from "./seed";
import { seedWebhook } from "./webhooks";

const [maintenanceUrl, mode, standins] = process.argv.slice(2);
const url = process.env["DATABASE_URL"]!;
const name = new URL(url).pathname.slice(1);

const admin = new pg.Client({ connectionString: maintenanceUrl });
await admin.connect();
if (mode === "fresh") await admin.query(`drop database if exists "${name}" with (force)`);
const { rowCount } = await admin.query("select 1 from pg_database where datname = $1", [name]);
if (rowCount === 0) await admin.query(`create database "${name}"`);
await admin.end();

await migrate(url);
const em = (await orm(url)).em.fork();
const [row] = await em.execute<{ n: string }[]>("select count(*) as n from desk_user");
if (mode !== "empty" && Number(row!.n) === 0) {
  const began = Date.now();
  console.log("ink bell · seeding the demo");
  const payments = await seedDemo(em, diskFiles(process.env["INKBELL_FILES"]!), new Date());
  const hooks = { url: process.env["HOOKS_URL"], secret: process.env["HOOKS_SECRET"] };
  if (hooks.url && hooks.secret) await seedWebhook(em.fork(), { url: hooks.url, secret: hooks.secret }, new Date());
  rememberPayments(join(standins!, "card-desk.json"), payments);
  console.log(`ink bell · the demo is seeded (${((Date.now() - began) / 1000).toFixed(1)} s)`);
}
// A demo that was seeded before the vendor's details were kept in the database gets them now.
if (mode !== "empty" && (await em.count(Vendor)) === 0 && (await em.count(Launch, { slug: "gansey" })) > 0) {
  seedVendor(em);
  await em.flush();
}
// A browser's way in for the first owner, for as long as there is none; printed when all has started.
const wayIn = process.env["INKBELL_WAY_IN_FILE"];
const token = wayIn ? await openWayIn(em, new Date()) : undefined;
if (wayIn && token) writeFileSync(wayIn, token, { mode: 0o600 });
else if (wayIn) rmSync(wayIn, { force: true });
await closeOrm();

// `npm start`: installs what is missing, starts PostgreSQL, migrates, seeds the demo, starts the stand-ins and the app.
import { existsSync, readFileSync } from "node:fs";
import { join, resolve } from "node:path";
import { databaseUrl, startPostgres } from "./lib/postgres.mjs";
import { debian, ensureBuild, ensureDebian, ensurePackages, root, run, say, stopChild } from "./lib/run.mjs";
import { reachedAt, standinsIn, stackSettings, startApp, startStandins } from "./lib/stack.mjs";

const began = Date.now();
const data = resolve(root, process.env.INKBELL_DATA ?? ".data");
const app = Number(process.env.PORT ?? 4310);
const ports = { app, card: app + 1, mail: app + 2, market: app + 3, hooks: app + 4, smtp: app + 15, returns: app + 16 };

if (!process.env.DATABASE_URL) ensureDebian([debian.postgresql]);
ensurePackages();
ensureBuild();
say("starting PostgreSQL");
const postgres = await startPostgres({ folder: join(data, "postgres") });
const url = process.env.DATABASE_URL ?? databaseUrl(postgres.url, "inkbell");
const settings = stackSettings({ data, databaseUrl: url, ports, extra: { INKBELL_DEMO: process.env.INKBELL_DEMO ?? "1" } });
const wayIn = join(data, "way-in");
const env = { ...process.env, ...settings, INKBELL_WAY_IN_FILE: wayIn };
let stopStandins = async () => {};
let child;
try {
  run(process.execPath, ["--import", "tsx", "demo/prepare.ts", postgres.url, settings.INKBELL_DEMO === "1" ? "demo" : "empty", standinsIn(data)], {
    env,
  });
  stopStandins = await startStandins({ data, settings, ports });
  child = await startApp(settings);
} catch (error) {
  console.error(error.message);
  await stopStandins();
  await postgres.stop();
  process.exit(1);
}

const { logins } = await import("../demo/logins.mjs");
const demo = settings.INKBELL_DEMO === "1";
const standin = (port) => `http://127.0.0.1:${port}/`;
const site = process.env.INKBELL_ORIGIN ?? reachedAt(ports.app);
const line = (name, address) => `  ${name.padEnd(32)} ${address}`;
const lines = [
  ...(demo ? [line("Porch, with a way to everything", `${site}/`)] : []),
  ...(existsSync(wayIn) ? [line("First owner, once, for a day", `${site}/desk/first?t=${readFileSync(wayIn, "utf8")}`)] : []),
  line("Desk", `${site}/desk`),
  line("Partner portal", `${site}/partner`),
  line("Library of buyers", `${site}/library`),
  ...(demo ? [line("A launch as visitors see it", `${site}/l/gansey`)] : []),
  line("Card desk (stand-in)", standin(ports.card)),
  line("Inbox (stand-in)", standin(ports.mail)),
  line("Marketplace (stand-in)", standin(ports.market)),
  line("Another tool (stand-in)", standin(ports.hooks)),
  ...(demo ? ["", ...logins.map((l) => `${line(l.what, l.email)}   ${l.password}`)] : []),
];
console.log(`
Ink Bell is ready after ${((Date.now() - began) / 1000).toFixed(1)} s.

${lines.join("\n")}

Ctrl-C stops everything.
`);

let stopping = false;
const stop = async (code) => {
  if (stopping) return;
  stopping = true;
  say("stopping");
  await stopChild(child);
  await stopStandins();
  await postgres.stop();
  process.exit(code);
};
process.on("SIGINT", () => void stop(0));
process.on("SIGTERM", () => void stop(0));
child.on("exit", (code) => void stop(code ?? 1));

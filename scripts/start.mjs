// `npm start`: installs what is missing, starts PostgreSQL, migrates, seeds the demo, starts the stand-ins and the app.
import { join, resolve } from "node:path";
import { databaseUrl, startPostgres } from "./lib/postgres.mjs";
import { debian, ensureBuild, ensureDebian, ensurePackages, root, run, say, stopChild } from "./lib/run.mjs";
import { standinsIn, stackSettings, startApp, startStandins } from "./lib/stack.mjs";

const began = Date.now();
const data = resolve(root, process.env.INKBELL_DATA ?? ".data");
const app = Number(process.env.PORT ?? 4310);
const ports = { app, card: app + 1, mail: app + 2, market: app + 3, smtp: app + 15 };

if (!process.env.DATABASE_URL) ensureDebian([debian.postgresql]);
ensurePackages();
ensureBuild();
say("starting PostgreSQL");
const postgres = await startPostgres({ folder: join(data, "postgres") });
const url = process.env.DATABASE_URL ?? databaseUrl(postgres.url, "inkbell");
const settings = stackSettings({ data, databaseUrl: url, ports, extra: { INKBELL_DEMO: process.env.INKBELL_DEMO ?? "1" } });
const env = { ...process.env, ...settings };
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
const at = (port, path = "") => `http://127.0.0.1:${port}${path}`;
console.log(`
Ink Bell is ready after ${((Date.now() - began) / 1000).toFixed(1)} s.

  Porch, with a way to everything  ${at(ports.app, "/")}
  Desk                             ${at(ports.app, "/desk")}
  Partner portal                   ${at(ports.app, "/partner")}
  A launch as visitors see it      ${at(ports.app, "/l/gansey")}
  Card desk (stand-in)             ${at(ports.card, "/")}
  Inbox (stand-in)                 ${at(ports.mail, "/")}
  Marketplace (stand-in)           ${at(ports.market, "/")}
${settings.INKBELL_DEMO === "1" ? `\n${logins.map((l) => `  ${l.what.padEnd(32)} ${l.email}   ${l.password}`).join("\n")}\n` : ""}
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

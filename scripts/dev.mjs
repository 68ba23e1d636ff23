// `npm run dev`: the stack with hot reload of the routes and the interface.
import { join, resolve } from "node:path";
import { databaseUrl, startPostgres } from "./lib/postgres.mjs";
import { debian, ensureDebian, ensurePackages, root, run, startChild, stopChild } from "./lib/run.mjs";
import { standinsIn, stackSettings, startStandins } from "./lib/stack.mjs";

if (!process.env.DATABASE_URL) ensureDebian([debian.postgresql]);
ensurePackages();
const { buildPublicAssets } = await import("./build.mjs");
await buildPublicAssets();
const data = resolve(root, process.env.INKBELL_DATA ?? ".data");
const app = Number(process.env.PORT ?? 4310);
const ports = { app, card: app + 1, mail: app + 2, market: app + 3, hooks: app + 4, smtp: app + 15, returns: app + 16 };
const postgres = await startPostgres({ folder: join(data, "postgres") });
const settings = stackSettings({
  data,
  databaseUrl: process.env.DATABASE_URL ?? databaseUrl(postgres.url, "inkbell"),
  ports,
  extra: { INKBELL_DEMO: "1" },
});
const env = { ...process.env, ...settings };
run(process.execPath, ["--import", "tsx", "demo/prepare.ts", postgres.url, "demo", standinsIn(data)], { env });
const stopStandins = await startStandins({ data, settings, ports });
const children = [
  startChild(process.execPath, ["--import", "tsx", "--watch-path=src/server", "--watch-path=src/jobs", "src/entry/worker.ts"], { env }),
  startChild(process.execPath, ["node_modules/astro/astro.js", "dev", "--port", String(app), "--host", "127.0.0.1"], { env }),
];
const stop = async () => {
  await Promise.all(children.map(stopChild));
  await stopStandins();
  await postgres.stop();
  process.exit(0);
};
process.on("SIGINT", () => void stop());
process.on("SIGTERM", () => void stop());

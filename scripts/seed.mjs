// `npm run seed -- --fresh`: empties the database and seeds the demo again. The app must not be running.
import { join, resolve } from "node:path";
import { databaseUrl, startPostgres } from "./lib/postgres.mjs";
import { ensurePackages, root, run } from "./lib/run.mjs";
import { standinsIn, stackSettings } from "./lib/stack.mjs";

ensurePackages();
const data = resolve(root, process.env.INKBELL_DATA ?? ".data");
const postgres = await startPostgres({ folder: join(data, "postgres") });
const url = process.env.DATABASE_URL ?? databaseUrl(postgres.url, "inkbell");
const app = Number(process.env.PORT ?? 4310);
const settings = stackSettings({
  data,
  databaseUrl: url,
  ports: { app, card: app + 1, mail: app + 2, market: app + 3, hooks: app + 4, smtp: app + 15, returns: app + 16 },
});
run(process.execPath, ["--import", "tsx", "demo/prepare.ts", postgres.url, process.argv.includes("--fresh") ? "fresh" : "demo", standinsIn(data)], {
  env: { ...process.env, ...settings },
});
await postgres.stop();

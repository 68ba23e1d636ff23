// `npm run rebuild`: makes roll-ups and counters of people anew from the log of events. The app may run: it writes no events meanwhile.
import { join, resolve } from "node:path";
import { databaseUrl, startPostgres } from "./lib/postgres.mjs";
import { ensurePackages, root, run } from "./lib/run.mjs";

ensurePackages();
const data = resolve(root, process.env.INKBELL_DATA ?? ".data");
const postgres = await startPostgres({ folder: join(data, "postgres") });
const url = process.env.DATABASE_URL ?? databaseUrl(postgres.url, "inkbell");
run(process.execPath, ["--import", "tsx", "src/entry/rebuildFigures.ts"], { env: { ...process.env, DATABASE_URL: url } });
if (!postgres.found) await postgres.stop();

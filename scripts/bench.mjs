// `npm run bench`: the built app against the plainest thing that does the same, as ratios.
import { join } from "node:path";
import { startPostgres } from "./lib/postgres.mjs";
import { debian, ensureBuild, ensureDebian, ensurePackages, root, run } from "./lib/run.mjs";

if (!process.env.DATABASE_URL) ensureDebian([debian.postgresql]);
ensurePackages();
ensureBuild();
const postgres = await startPostgres({ folder: join(root, ".data/bench-postgres") });
try {
  run(process.execPath, ["--import", "tsx", "bench/bench.ts", ...process.argv.slice(2)], {
    env: { ...process.env, TEST_DATABASE_URL: postgres.url },
  });
} finally {
  await postgres.stop();
}

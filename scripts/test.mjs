// `npm test`: installs what is missing and runs every test. `--only unit|integration|browser` runs one kind.
import { join } from "node:path";
import { startPostgres } from "./lib/postgres.mjs";
import { debian, ensureBuild, ensureDebian, ensurePackages, root, run, say } from "./lib/run.mjs";

const at = process.argv.indexOf("--only");
const only = at > 0 ? process.argv[at + 1] : undefined;
const rest = process.argv.slice(2).filter((_, index) => at < 0 || (index !== at - 2 && index !== at - 1));
const wants = (kind) => only === undefined || only === kind;
if (only && !["unit", "integration", "browser"].includes(only)) {
  console.error(`--only takes unit, integration or browser, not "${only}".`);
  process.exit(1);
}

const needed = [];
if (!process.env.DATABASE_URL && (wants("integration") || wants("browser"))) needed.push(debian.postgresql);
if (wants("browser")) needed.push(debian.chromium);
ensureDebian(needed);
ensurePackages();
const vitest = (project, env = {}) =>
  run(process.execPath, ["node_modules/vitest/vitest.mjs", "run", "--project", project, ...rest], { env: { ...process.env, ...env } });

if (only === undefined) {
  say("types, lint, format and layers");
  run(process.execPath, ["scripts/check.mjs"]);
}
if (wants("unit")) vitest("unit");
if (wants("integration") || wants("browser")) {
  const postgres = await startPostgres({ folder: join(root, ".data/test-postgres"), durable: false });
  try {
    const env = { TEST_DATABASE_URL: postgres.url };
    if (wants("integration")) vitest("integration", env);
    if (wants("browser")) {
      ensureBuild();
      run(process.execPath, ["node_modules/@playwright/test/cli.js", "test", ...rest], { env: { ...process.env, ...env } });
    }
  } finally {
    await postgres.stop();
  }
}

// `npm run check`: types, lint, format, and the direction of imports.
import { ensurePackages, run } from "./lib/run.mjs";

ensurePackages();
const node = (script, ...args) =>
  run(process.execPath, [`node_modules/${script}`, ...args], { env: { ...process.env, ASTRO_TELEMETRY_DISABLED: "1" } });
node("astro/astro.js", "check", "--minimumSeverity", "warning");
node("eslint/bin/eslint.js", ".", "--max-warnings", "0");
node("prettier/bin/prettier.cjs", "--check", "--log-level", "warn", ".");
node("dependency-cruiser/bin/dependency-cruise.mjs", "src", "--config", ".dependency-cruiser.cjs");
run(process.execPath, ["scripts/lib/astroImports.mjs"]);

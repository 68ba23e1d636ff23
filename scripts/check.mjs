// `npm run check`: types, lint, format, and the direction of imports. They do not depend on each other: as many run at once as there are processors.
import { spawn } from "node:child_process";
import { availableParallelism } from "node:os";
import { ensurePackages, root, say } from "./lib/run.mjs";

ensurePackages();
const waiting = [
  ["lint", "node_modules/eslint/bin/eslint.js", ".", "--max-warnings", "0"],
  ["types", "node_modules/astro/astro.js", "check", "--minimumSeverity", "warning"],
  ["format", "node_modules/prettier/bin/prettier.cjs", "--check", "--log-level", "warn", "."],
  ["layers", "node_modules/dependency-cruiser/bin/dependency-cruise.mjs", "src", "--config", ".dependency-cruiser.cjs"],
  ["layers of Astro files", "scripts/lib/astroImports.mjs"],
];

/** Runs one check to its end. Its output is shown in one piece, so that two that run at once do not mix their lines. */
const check = (name, ...args) =>
  new Promise((ended, failed) => {
    const child = spawn(process.execPath, args, { cwd: root, env: { ...process.env, ASTRO_TELEMETRY_DISABLED: "1" } });
    let output = "";
    for (const stream of [child.stdout, child.stderr]) stream.on("data", (text) => (output += text));
    child.on("error", failed);
    child.on("close", (status, signal) => {
      say(`${name}: ${status === 0 ? "passed" : `ended with ${status ?? signal}`}`);
      if (output.trim()) console.log(output.trimEnd());
      ended(status === 0);
    });
  });

let passed = true;
const takeNext = async () => {
  for (let next = waiting.shift(); next; next = waiting.shift()) passed = (await check(...next)) && passed;
};
await Promise.all(Array.from({ length: availableParallelism() }, takeNext));
if (!passed) process.exitCode = 1;

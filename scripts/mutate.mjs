// `npm run mutate`: installs what is missing and runs mutation testing of the core. Options go to the tool, such as `--mutate src/core/money/amount.ts`.
import { join } from "node:path";
import { ensurePackages, root, run } from "./lib/run.mjs";

ensurePackages();
run(process.execPath, [join(root, "node_modules/@stryker-mutator/core/bin/stryker.js"), "run", ...process.argv.slice(2)]);

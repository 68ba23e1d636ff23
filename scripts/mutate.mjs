// `npm run mutate [rooms]`: installs what is missing, breaks lines of the core one by one, room by room, and asks whether a
// unit test notices. Each room has its own score, and one under the threshold fails the run once all have been tried.
import { spawnSync } from "node:child_process";
import { join } from "node:path";
import { ensurePackages, root, say } from "./lib/run.mjs";

ensurePackages();
const rooms = process.argv.length > 2 ? process.argv.slice(2) : ["money", "offers", "launch"];
const failed = rooms.filter((room) => {
  say(`breaking lines of core/${room}`);
  const tool = join(root, "node_modules/@stryker-mutator/core/bin/stryker.js");
  return spawnSync(process.execPath, [tool, "run"], { cwd: root, stdio: "inherit", env: { ...process.env, MUTATED_ROOM: room } }).status !== 0;
});
if (failed.length > 0) {
  say(`not good enough: ${failed.join(", ")}`);
  process.exit(1);
}

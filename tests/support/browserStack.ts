import { spawnSync } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { databaseUrl } from "../../scripts/lib/postgres.mjs";
import { withPastCharges } from "./cardDeskBooks";
import { freePort, root, stopChild } from "../../scripts/lib/run.mjs";
import { standinsIn, stackSettings, startApp, startStandins } from "../../scripts/lib/stack.mjs";

/**
 * Starts the whole stack with a test clock and a database of its own, with the demo or with nothing in it; tells the tests
 * by the environment. `wayIn` is the file with the first owner's token, where there is no owner.
 */
export const startStack = async (name: string, what: "demo" | "empty" = "demo") => {
  const maintenance = process.env["TEST_DATABASE_URL"];
  if (!maintenance) throw new Error("TEST_DATABASE_URL is not set: run the tests with `npm test -- --only browser`.");
  const ports = {
    app: await freePort(),
    card: await freePort(),
    market: await freePort(),
    hooks: await freePort(),
    mail: await freePort(),
    smtp: await freePort(),
    returns: await freePort(),
  };
  const data = mkdtempSync(join(tmpdir(), "ink-bell-browser-"));
  const extra = { INKBELL_DEMO: what === "demo" ? "1" : "0", INKBELL_TEST_CLOCK: "1", INKBELL_LOG: "error" };
  const settings = stackSettings({ data, databaseUrl: databaseUrl(maintenance, name), ports, extra });
  const wayIn = join(data, "way-in");
  const prepared = spawnSync(
    process.execPath,
    ["--import", "tsx", "demo/prepare.ts", maintenance, what === "demo" ? "fresh" : "empty", standinsIn(data)],
    {
      cwd: root,
      env: { ...process.env, ...settings, INKBELL_WAY_IN_FILE: wayIn },
      stdio: "inherit",
    },
  );
  if (prepared.status !== 0) throw new Error("the demo could not be seeded");
  const stopStandins = await startStandins({ data, settings, ports });
  return { settings: await withPastCharges(settings), wayIn, origin: `http://127.0.0.1:${ports.app}`, start: () => startApp(settings), stopStandins };
};

export default async function setup() {
  const stack = await startStack("ink_bell_browser");
  const app = await stack.start();
  process.env["STACK"] = JSON.stringify({ origin: stack.origin, ...stack.settings });
  return async () => {
    await stopChild(app);
    await stack.stopStandins();
  };
}

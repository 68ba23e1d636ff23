import { spawn, type ChildProcess } from "node:child_process";
import { fileURLToPath } from "node:url";
import { afterAll, beforeAll, expect, it } from "vitest";
import { seeded } from "../../src/core/offers";
import { mostUnknown } from "../../src/jobs/mailLanes";
import { queueBellEmails } from "../../src/server/launch/runBells";
import { ringBellFor } from "../support/bells";
import { openLaunch, startWorld, until, type World } from "../support/world";

const people = 5_000;
const kills = 10;

let world: World;
const workers = new Set<ChildProcess>();
beforeAll(async () => {
  world = await startWorld();
});
afterAll(async () => {
  for (const worker of workers) worker.kill("SIGKILL");
  await world.stop();
});

/** A worker as it runs in earnest: a process of its own, told of the rest by its environment alone. */
const startWorker = (): ChildProcess => {
  const worker = spawn(process.execPath, ["--import", "tsx", fileURLToPath(new URL("../../src/entry/worker.ts", import.meta.url))], {
    env: { ...process.env, ...world.settings },
    stdio: ["ignore", "ignore", "inherit"],
  });
  workers.add(worker);
  worker.on("exit", () => workers.delete(worker));
  return worker;
};
const states = async (): Promise<Record<string, number>> =>
  Object.fromEntries(
    (await world.app.fork().execute<{ state: string; n: number }[]>("select state, count(*)::int as n from email_message group by 1")).map(
      ({ state, n }) => [state, n],
    ),
  );
const arrived = async () =>
  (await (await fetch(`${world.settings["MAIL_INBOX_URL"]}/api/count?to=crash.`)).json()) as { emails: number; accepted: number };

it("5,000 emails go out once each while two workers are killed again and again; what nobody can know is called unknown", async () => {
  const context = await openLaunch(world, { opensIn: -2, closesIn: 240, offer: false });
  await queueBellEmails(world.app, await ringBellFor(world, context, people, "crash"));
  const random = seeded(5_000);
  startWorker();
  startWorker();
  for (let killed = 0; killed < kills; killed += 1) {
    // Emails have gone out since the last kill: each falls into the middle of sending.
    const { accepted } = await arrived();
    await until(async () => (await arrived()).accepted > accepted + 20, 60);
    await new Promise((next) => setTimeout(next, random() * 400));
    const [one, other] = [...workers];
    (random() < 0.5 && other ? other : one)!.kill("SIGKILL");
    startWorker();
  }
  await until(async () => {
    const { due = 0, sending = 0 } = await states();
    return due + sending === 0;
  }, 180);
  const { sent = 0, unknown = 0, ...others } = await states();
  const { emails, accepted } = await arrived();
  expect(others).toEqual({});
  expect(sent + unknown).toBe(people);
  // Every yes that the mail server said was for one email more: nobody got two, and nobody whose email is "sent" got none.
  expect(accepted).toBe(emails);
  expect(accepted).toBeGreaterThanOrEqual(sent);
  expect(accepted).toBeLessThanOrEqual(sent + unknown);
  expect(unknown).toBeLessThanOrEqual(kills * mostUnknown);
});

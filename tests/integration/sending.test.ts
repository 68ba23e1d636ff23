import { randomUUID } from "node:crypto";
import { afterAll, afterEach, beforeAll, describe, expect, it } from "vitest";
import { sweep } from "../../src/jobs/sweep";
import { MailFailed, type Mailer, type OutgoingMail } from "../../src/outside/mailer";
import { claimBulk, claimPersonal, takeUpEmails } from "../../src/store/emails/claim";
import { deliverEmails } from "../../src/server/emails/deliver";
import { queueBellEmails } from "../../src/server/launch/runBells";
import { askForLibraryLink } from "../../src/server/delivery/buyers";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { retryNow } from "../../src/server/work/retry";
import { waitingWork } from "../../src/store/work/waitingWork";
import { EmailMessage } from "../../src/store/tables";
import { ringBellFor } from "../support/bells";
import { advance, buy, buyer, openLaunch, someone, startWorld, until, withWorker, type World } from "../support/world";

let world: World;
let context: LaunchContext;
let mailer: Mailer;
beforeAll(async () => {
  world = await startWorld();
  context = await openLaunch(world, { opensIn: -2, closesIn: 240, offer: false });
  ({ mailer } = world.app);
});
afterEach(async () => {
  world.app.mailer = mailer;
  await mood("well");
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const mood = (name: string) =>
  fetch(`${world.settings["MAIL_INBOX_URL"]}/behave`, { method: "POST", body: new URLSearchParams({ mood: name }), redirect: "manual" });
const counted = async (to: string): Promise<{ emails: number; accepted: number }> =>
  (await (await fetch(`${world.settings["MAIL_INBOX_URL"]}/api/count?to=${encodeURIComponent(to)}`)).json()) as never;
const states = async (key: string) =>
  Object.fromEntries(
    (
      await em().execute<{ state: string; n: string }[]>("select state, count(*) as n from email_message where key like ? group by 1", [`${key}%`])
    ).map(({ state, n }) => [state, Number(n)]),
  );

const bellFor = (n: number, mark: string) => ringBellFor(world, context, n, mark);
const emails = (mark: string) =>
  em().execute<{ id: string; state: string }[]>(
    "select e.id, e.state from email_message e join contact c on c.id = e.contact_id where e.kind = 'bell' and c.email like ?",
    [`${mark}.%`],
  );

describe("emails at a bell", () => {
  it("are queued in slices that lock no launch: a checkout begins meanwhile, and two workers queue each email once", async () => {
    const run = await bellFor(4_500, "slices");
    const queueing = Promise.all([queueBellEmails(world.app, run), queueBellEmails(world.app, run)]);
    const began = performance.now();
    await em().transactional(async (tx) => {
      await tx.execute("select 1 from launch where id = ? for key share", [context.launch.id]);
    });
    expect(performance.now() - began).toBeLessThan(1_000);
    await queueing;
    expect(await emails("slices")).toHaveLength(4_500);
    const [row] = await em().execute<{ outcome: string }[]>("select outcome from bell_run where id = ?", [run]);
    expect(row!.outcome).toMatch(/^4,500 emails on the way\./);
    await em().execute("update email_message set state = 'stopped' where kind = 'bell'");
  });

  it("go once each, though workers end in the middle: what was on its way then is unknown, and not sent again", async () => {
    await queueBellEmails(world.app, await bellFor(400, "killed"));
    const sent: string[] = [];
    let most = Infinity;
    // A worker that ends: from some email on the server says yes, and nobody hears it.
    world.app.mailer = {
      ...mailer,
      send: async (mail: OutgoingMail, lane) => {
        await mailer.send(mail, lane);
        sent.push(mail.to);
        if (sent.length > most) await new Promise(() => undefined);
      },
    };
    for (const limit of [50, 160]) {
      most = limit;
      const dead = randomUUID();
      const claimed = await claimBulk(em(), dead, world.app.clock.now(), 120);
      await Promise.race([deliverEmails(world.app, dead, claimed), new Promise((next) => setTimeout(next, 1_500))]);
      await takeUpEmails(em());
    }
    world.app.mailer = mailer;
    await withWorker(world, () => until(async () => (await emails("killed")).every(({ state }) => state === "sent" || state === "unknown"), 40));
    const { emails: arrived, accepted } = await counted("killed.");
    // Everything that the mail server said yes to is one email to one person.
    expect(accepted).toBe(arrived);
    const all = await emails("killed");
    const unknown = all.filter(({ state }) => state === "unknown").length;
    expect(unknown).toBeGreaterThan(0);
    expect(unknown).toBeLessThanOrEqual(32);
    expect(all.filter(({ state }) => state === "sent").length + unknown).toBe(400);
    // The desk sees how many, and sends them again only by a press.
    const row = (await waitingWork(em(), world.app.clock.now())).emails.find(({ state }) => state === "unknown")!;
    expect(row).toMatchObject({ kind: "bell", n: unknown });
    await expect(retryNow(em(), someone("viewer"), { what: "unknown", kind: "bell" }, world.app.clock.now())).rejects.toMatchObject({
      status: 403,
    });
    expect(await retryNow(em(), world.owner, { what: "unknown", kind: "bell" }, world.app.clock.now())).toEqual({ n: unknown });
  });

  it("are sent by nobody else once another worker has taken them up, though the first only stood still", async () => {
    await em().execute("update email_message set state = 'stopped' where state in ('due', 'unknown')");
    await queueBellEmails(world.app, await bellFor(40, "slow"));
    const slow = randomUUID();
    const claimed = await claimBulk(em(), slow, world.app.clock.now(), 120);
    const before = (await counted("slow.")).accepted;
    // It stands still after its first sixteen; its work is taken up, and sent, before it goes on.
    let letGo = (): void => undefined;
    const still = new Promise<void>((go) => (letGo = go));
    let begun = 0;
    world.app.mailer = {
      ...mailer,
      send: async (mail: OutgoingMail, lane) => {
        await mailer.send(mail, lane);
        begun += 1;
        if (begun === 16) await still;
      },
    };
    const going = deliverEmails(world.app, slow, claimed);
    await until(() => Promise.resolve(begun === 16), 20);
    await takeUpEmails(em());
    const other = randomUUID();
    world.app.mailer = mailer;
    await deliverEmails(world.app, other, await claimBulk(em(), other, world.app.clock.now(), 120));
    letGo();
    await going;
    expect(before).toBe(0);
    expect(await counted("slow.")).toMatchObject({ emails: 40, accepted: 40 });
    const all = await emails("slow");
    expect([all.filter(({ state }) => state === "sent").length, all.filter(({ state }) => state === "unknown").length]).toEqual([24, 16]);
  });

  it("that are cut off between the server's yes and ours are unknown; mail to one person goes again under its Message-ID", async () => {
    await em().execute("update email_message set state = 'stopped' where state in ('due', 'unknown')");
    await queueBellEmails(world.app, await bellFor(3, "cut"));
    const { order, person } = await buy(world, context);
    await em().execute("update email_message set due_at = now() where data->>'orderId' = ?", [order!.id]);
    await mood("cut");
    const worker = randomUUID();
    await em().execute("insert into worker (id) values (?)", [worker]);
    for (const claim of [claimBulk, claimPersonal]) await deliverEmails(world.app, worker, await claim(em(), worker, world.app.clock.now(), 50));
    await mood("well");
    expect((await emails("cut")).map(({ state }) => state)).toEqual(["unknown", "unknown", "unknown"]);
    const receipt = await em().findOneOrFail(EmailMessage, { key: `receipt:${order!.id}` });
    expect(receipt).toMatchObject({ state: "due", tries: 1, failedBecause: "the mail server did not take it" });
    await advance(world, 1);
    await withWorker(world, () => until(async () => (await em().findOneOrFail(EmailMessage, { id: receipt.id })).state === "sent"));
    expect(await world.inbox(person.email)).toMatchObject([{ copies: 2 }]);
    // Which of them arrived nobody knows here; none came twice.
    const arrived = await counted("cut.");
    expect(arrived.emails).toBeGreaterThan(0);
    expect(arrived.accepted).toBe(arrived.emails);
  });

  it("never hold up mail to one person: a receipt passes thousands that are due before it", async () => {
    await em().execute("update email_message set state = 'stopped' where state in ('due', 'unknown')");
    await queueBellEmails(world.app, await bellFor(3_000, "crowd"));
    await withWorker(world, async () => {
      await until(async () => (await counted("crowd.")).accepted > 50, 30);
      const { person } = await buy(world, context);
      await askForLibraryLink(world.app, em(), person.email, "here");
      const began = Date.now();
      await until(async () => (await world.inbox(person.email)).length > 0, 30);
      expect(Date.now() - began).toBeLessThan(5_000);
      // Thousands still wait.
      expect((await emails("crowd")).filter(({ state }) => state === "due").length).toBeGreaterThan(100);
      await em().execute("update email_message set state = 'stopped' where state = 'due' and kind = 'bell'");
    });
  });

  it("that the server refuses for good are dropped, those it asks to send later are sent later", async () => {
    const { order, person } = await buy(world, context, undefined, buyer());
    const receipt = await em().findOneOrFail(EmailMessage, { key: `receipt:${order!.id}` });
    world.app.mailer = { ...mailer, send: () => Promise.reject(new MailFailed("later", "busy")) };
    await advance(world, 16);
    const worker = randomUUID();
    await em().execute("insert into worker (id) values (?)", [worker]);
    const deliver = async () => deliverEmails(world.app, worker, await claimPersonal(em(), worker, world.app.clock.now(), 50));
    for (let n = 0; n < 20; n += 1) {
      await deliver();
      await advance(world, 16);
    }
    // However often it failed, it is not given up.
    expect(await em().findOneOrFail(EmailMessage, { id: receipt.id })).toMatchObject({ state: "due", tries: 20 });
    world.app.mailer = mailer;
    await mood("busy");
    await deliver();
    expect((await em().findOneOrFail(EmailMessage, { id: receipt.id })).state).toBe("due");
    await mood("refuses");
    await advance(world, 16);
    await deliver();
    expect(await em().findOneOrFail(EmailMessage, { id: receipt.id })).toMatchObject({ state: "stopped", stoppedBecause: "refused_by_server" });
    expect(await world.inbox(person.email)).toEqual([]);
    expect(await states("receipt:")).not.toHaveProperty("sending");
  });
});

const desk = (name: string) =>
  fetch(`${world.settings["CARD_DESK_URL"]}/behave`, { method: "POST", body: new URLSearchParams({ mood: name }), redirect: "manual" });
/** A payment that the card desk has not answered: pending, with nothing in the outbox for it. */
const pendingCharge = async (): Promise<string> => {
  await desk("down");
  const { charge } = await buy(world, context);
  await desk("well");
  expect(charge.state).toBe("pending");
  await em().execute("delete from outbox where key = ?", [`settle:${charge.id}`]);
  return charge.id;
};
const stateOf = async (id: string) => (await em().execute<{ state: string }[]>("select state from charge where id = ?", [id]))[0]!.state;

describe("work in the background", () => {
  it("of a worker that was killed is taken up by another within seconds", async () => {
    const id = await pendingCharge();
    const { order } = await buy(world, context);
    const email = await em().findOneOrFail(EmailMessage, { key: `receipt:${order!.id}` });
    // Workers have been here, so that the queue is there; none is now.
    await withWorker(world, () => Promise.resolve());
    // As a killed worker leaves it: a job and an email in hand, with nobody who beats for them any more.
    await em().execute(
      `insert into pgboss.job (id, name, data, state, retry_limit, started_on, expire_in) values (gen_random_uuid(), 'settle_charge', ?::jsonb, 'active', 1000, now() - interval '60 seconds', interval '20 seconds')`,
      [JSON.stringify({ id, tries: 0, firstDueAt: new Date().toISOString() })],
    );
    await em().execute("update email_message set state = 'sending', taken_by = ? where id = ?", [randomUUID(), email.id]);
    await withWorker(world, async () => {
      await until(async () => (await stateOf(id)) === "succeeded", 40);
      await until(async () => (await em().findOneOrFail(EmailMessage, { id: email.id })).state !== "sending", 30);
    });
  });

  it("that nobody has in hand is found and done, though queue and outbox were emptied", async () => {
    const id = await pendingCharge();
    await em().execute("update charge set created_at = created_at - interval '10 minutes' where id = ?", [id]);
    const waits = async () => (await em().execute("select 1 from outbox where key = ?", [`settle:${id}`])).length;
    expect(await waits()).toBe(0);
    await sweep(world.app);
    expect(await waits()).toBe(1);
    await sweep(world.app);
    expect(await waits()).toBe(1);
    await withWorker(world, () => until(async () => (await stateOf(id)) === "succeeded", 20));
  });

  it("that fails waits longer each time, is never given up, and says since when and why", async () => {
    const id = await pendingCharge();
    await desk("down");
    const key = `settle:${id}`;
    const row = async () =>
      (await em().execute<{ tries: number; failed_because: string; due_at: string; id: string }[]>("select * from outbox where key = ?", [key]))[0];
    const now = world.app.clock.now();
    await em().execute("insert into outbox (topic, payload, key, due_at, tries, first_due_at) values ('settle_charge', ?::jsonb, ?, ?, 30, ?)", [
      JSON.stringify({ id }),
      key,
      now,
      new Date(now.getTime() - 8 * 3_600_000),
    ]);
    await withWorker(world, async () => {
      const waiting = await until(async () => {
        const found = await row();
        return found?.tries === 31 && found;
      });
      expect(waiting.failed_because).toBe("the card processor has not answered yet");
      expect(new Date(waiting.due_at).getTime() - now.getTime()).toBeGreaterThan(14 * 60_000);
      const shown = (await waitingWork(em(), world.app.clock.now())).work.find((one) => one.id === waiting.id)!;
      expect(shown).toMatchObject({ what: "Ask the card processor about a payment", tries: 31 });
      expect(now.getTime() - Date.parse(shown.since)).toBeGreaterThan(7.9 * 3_600_000);
      await desk("well");
      await retryNow(em(), world.owner, { what: "work", id: waiting.id }, world.app.clock.now());
      await until(async () => (await row()) === undefined && (await stateOf(id)) === "succeeded");
    });
  });
});

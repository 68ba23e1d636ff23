import { workTopics } from "../../src/core/work";
import { waitingWork } from "../../src/store/work/waitingWork";
import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { Worker } from "../../src/jobs/worker";
import { runMaintenance } from "../../src/jobs/maintenance";
import { MailFailed } from "../../src/outside/mailer";
import { describeError } from "../../src/server/platform/describeError";
import { queue } from "../../src/server/platform/outbox";
import { hashPassword, sessionSubject, signIn, signOut } from "../../src/server/platform/access/session";
import { limit } from "../../src/server/platform/access/rateLimit";
import type { EntityManager } from "../../src/store/orm";
import { optIn } from "../../src/server/people/optIn";
import { createLaunch } from "../../src/server/start/createLaunch";
import { newLaunchRequest } from "../../src/core/launch";
import { Contact, DeskUser, EmailMessage, Launch, OutboxWork, Page } from "../../src/store/tables";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { advance, buyer, openLaunch, startWorld, until, visitor, withWorker, type World, sentBy } from "../support/world";

let world: World;
let context: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  context = await openLaunch(world);
});
afterAll(() => world.stop());

const subscribe = async () => {
  const { email } = buyer();
  const { visitorId } = visitor();
  await optIn(world.app.fork(), context, { email, firstName: "Ada", answers: {} }, sentBy(visitorId, world.app.clock.now()));
  return email;
};
const waiting = async () => Number((await world.app.fork().execute<{ n: string }[]>("select count(*) as n from outbox"))[0]!.n);

describe("the outbox", () => {
  it("is written with the change or not at all", async () => {
    const before = await waiting();
    const work = world.app.fork().transactional(async (em) => {
      await queue(em, "settle_charge", { id: randomUUID() }, world.app.clock.now());
      throw new Error("the change failed");
    });
    await expect(work).rejects.toThrow("the change failed");
    expect(await waiting()).toBe(before);
  });
  it("holds one row for a key, at its newest due time", async () => {
    const key = randomUUID();
    const [early, late] = [new Date("2030-01-01T00:00:00Z"), new Date("2031-01-01T00:00:00Z")];
    for (const at of [early, late]) await queue(world.app.fork(), "settle_charge", { id: randomUUID() }, at, key);
    const rows = await world.app.fork().execute<{ due_at: string }[]>("select due_at from outbox where key = ?", [key]);
    expect(rows.map((row) => new Date(row.due_at).getTime())).toEqual([late.getTime()]);
  });
});

describe("the worker", () => {
  it("shares its work with another, and each email goes once", async () => {
    const emails = await Promise.all(Array.from({ length: 12 }, subscribe));
    const pair = [new Worker(world.app), new Worker(world.app)];
    await Promise.all(pair.map((worker) => worker.start()));
    await until(async () => (await Promise.all(emails.map((email) => world.inbox(email)))).every((emails) => emails.length === 1));
    await Promise.all(pair.map((worker) => worker.stop()));
    const [row] = await world.app.fork().execute<{ n: string }[]>("select count(*) as n from email_message where state = 'sent'");
    expect(Number(row!.n)).toBe(12);
  });
  it("tries again what failed, until it works", async () => {
    const email = await subscribe();
    const { mailer } = world.app;
    let refusals = 0;
    world.app.mailer = {
      ...mailer,
      send: (mail, lane) => {
        if (refusals < 1) {
          refusals += 1;
          return Promise.reject(new MailFailed("later", "the mail server is away"));
        }
        return mailer.send(mail, lane);
      },
    };
    try {
      await withWorker(world, () => until(async () => (await world.inbox(email)).length === 1, 25));
    } finally {
      world.app.mailer = mailer;
    }
    expect(refusals).toBe(1);
  });
  it("leaves work of a kind that it does not know where it is, keeps what carries nonsense, and goes on with the rest", async () => {
    const now = world.app.clock.now();
    const em = () => world.app.fork();
    const left = (key: string) => em().findOne(OutboxWork, { key });
    for (const [topic, payload, key] of [
      ["of_another_version", { id: randomUUID() }, "unknown"],
      ["run_bells", { id: "no id at all" }, "nonsense"],
      ["run_bells", { id: context.launch.id }, "good"],
    ] as const)
      await em().execute("insert into outbox (topic, payload, key, due_at) values (?, ?::jsonb, ?, ?)", [topic, JSON.stringify(payload), key, now]);
    await withWorker(world, () => until(async () => !(await left("good")) && ((await left("nonsense"))?.tries ?? 0) > 0, 25));
    expect(await left("unknown")).toMatchObject({ tries: 0 });
    expect(await left("nonsense")).toMatchObject({ failedBecause: "what it carries is not understood" });
    const shown = (await waitingWork(em(), new Date(now.getTime() + 120_000))).work.map(({ what }) => what);
    expect(shown).toEqual(expect.arrayContaining(["of_another_version", workTopics.run_bells.says]));
    await em().nativeDelete(OutboxWork, { key: { $in: ["unknown", "nonsense"] } });
  });
  it("survives the loss of its database connections", async () => {
    await withWorker(world, async () => {
      await world.app
        .fork()
        .execute("select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()");
      await new Promise((next) => setTimeout(next, 500));
      const email = await until(() => subscribe().catch(() => undefined));
      await until(async () => (await world.inbox(email)).length === 1, 25);
    });
  });
  it("sends nothing before it is due by the app's clock", async () => {
    const email = await subscribe();
    const { id: contactId } = await world.app.fork().findOneOrFail(Contact, { email });
    const row = await world.app.fork().findOneOrFail(EmailMessage, { contactId, kind: "welcome" });
    const later = new Date(world.app.clock.now().getTime() + 3_600_000);
    await world.app.fork().nativeUpdate(EmailMessage, { id: row.id }, { dueAt: later });
    await withWorker(world, async () => {
      await new Promise((next) => setTimeout(next, 1_200));
      expect(await world.inbox(email)).toEqual([]);
      await advance(world, 61);
      await until(async () => (await world.inbox(email)).length === 1);
    });
  });
});

describe("an error in the log", () => {
  it("names its kind and place, and quotes no value", async () => {
    const error = await world.app
      .fork()
      .execute("insert into contact (id) values (?)", ["ada@wool.example"])
      .catch((e: unknown) => e);
    const logged = describeError(error);
    expect(JSON.stringify(logged)).not.toContain("ada@wool.example");
    expect(logged).toMatchObject({ code: "22P02", at: expect.stringContaining("at ") as string });
    expect(describeError("text")).toEqual({ name: "string" });
  });
});

describe("maintenance", () => {
  it("sweeps what is over and keeps what is not", async () => {
    const em = world.app.fork();
    const now = world.app.clock.now();
    const session = (token: string, expires: Date) =>
      em.execute("insert into session (token_hash, kind, subject_id, created_at, seen_at, expires_at) values (?, 'desk', ?, ?, ?, ?)", [
        token,
        randomUUID(),
        now,
        now,
        expires,
      ]);
    await session("old", new Date(now.getTime() - 1));
    await session("new", new Date(now.getTime() + 60_000));
    await runMaintenance(world.app);
    expect(await em.execute("select token_hash from session where token_hash in ('old', 'new')")).toEqual([{ token_hash: "new" }]);
  });
});

describe("a session", () => {
  const login = { email: "sign@test.example", password: "a long enough password" };
  beforeAll(async () => {
    const em = world.app.fork();
    const user = em.create(DeskUser, {
      id: randomUUID(),
      email: login.email,
      name: "S",
      role: "viewer",
      passwordHash: await hashPassword(login.password),
    });
    await em.persist(user).flush();
  });
  const subject = (token: string, kind: "desk" | "partner" = "desk") => sessionSubject(world.app.fork(), kind, token, world.app.clock.now());
  const enter = (password = login.password) => signIn(world.app, world.app.fork(), "desk", ` ${login.email.toUpperCase()}`, password, randomUUID());

  it("opens its own surface until it is closed", async () => {
    const token = await enter();
    expect(await subject(token)).toBeDefined();
    expect(await subject(token, "partner")).toBeUndefined();
    await signOut(world.app.fork(), token);
    expect(await subject(token)).toBeUndefined();
  });
  it("ends by itself after two weeks", async () => {
    const token = await enter();
    await advance(world, 14 * 24 * 60 + 1);
    expect(await subject(token)).toBeUndefined();
  });
  it("is kept as a hash: the database's content opens nothing", async () => {
    const token = await enter();
    const rows = await world.app.fork().execute<{ token_hash: string }[]>("select token_hash from session");
    expect(rows.some(({ token_hash }) => token_hash === token)).toBe(false);
  });
  it("is refused alike for a wrong password and an unknown address", async () => {
    const wrong = await enter("wrong").catch((error: Error) => error.message);
    const unknown = await signIn(world.app, world.app.fork(), "desk", "who@test.example", "x", "y").catch((error: Error) => error.message);
    expect(wrong).toBe(unknown);
  });
  it("counts tries by the app's clock, and lets go when the time is over", async () => {
    const key = randomUUID();
    const count = (now: Date) =>
      limit(world.app.fork(), now, key, 2, 60).then(
        () => "ok",
        () => "refused",
      );
    const now = new Date("2026-11-23T12:00:00Z");
    expect([await count(now), await count(now), await count(now)]).toEqual(["ok", "ok", "refused"]);
    expect(await count(new Date(now.getTime() + 60_000))).toBe("ok");
  });
  it("lets nobody else's commit go without the disk, in its own transaction or on its connection afterwards", async () => {
    const shown = async (em: EntityManager) => (await em.execute<{ synchronous_commit: string }[]>("show synchronous_commit"))[0]!.synchronous_commit;
    await world.app.fork().transactional(async (tx) => {
      await tx.execute("set local synchronous_commit = on");
      await limit(tx, new Date(), randomUUID(), 2, 60);
      expect(await shown(tx)).toBe("on");
    });
    const usual = await shown(world.app.fork());
    await Promise.all(Array.from({ length: 12 }, () => limit(world.app.fork(), new Date(), randomUUID(), 2, 60)));
    for (const found of await Promise.all(Array.from({ length: 12 }, () => shown(world.app.fork())))) expect(found).toBe(usual);
  });
});

describe("a new launch", () => {
  const request = newLaunchRequest.parse({
    name: "Twice",
    zone: "Europe/Lisbon",
    opensWall: "2027-05-01T10:00",
    closesWall: "2027-05-05T10:00",
    productName: "P",
    price: "10",
    currency: "EUR",
    taxMode: "inclusive",
  });
  it("of the same name gets an address of its own, with its pages, which nobody sees", async () => {
    const made = [];
    for (let i = 0; i < 3; i += 1) made.push(await createLaunch(world.app.fork(), world.owner, request, world.app.clock.now()));
    expect(made.map(({ launch }) => launch.slug)).toEqual(["twice", "twice-2", "twice-3"]);
    const pages = await world.app.fork().find(Page, { launchId: made[0]!.launch.id });
    expect(pages).toHaveLength(9);
    expect(pages.every(({ published }) => published === null)).toBe(true);
  });
  it("is refused whole where one field is wrong", async () => {
    const wrong = { ...request, name: "Wrong one", zone: "Nowhere" };
    await expect(createLaunch(world.app.fork(), world.owner, wrong, new Date())).rejects.toMatchObject({
      status: 422,
      faults: { zone: { code: "zone" } },
    });
    expect(await world.app.fork().count(Launch, { name: "Wrong one" })).toBe(0);
  });
  it("is started by nobody who only looks", async () => {
    await expect(createLaunch(world.app.fork(), { ...world.owner, role: "viewer" }, request, new Date())).rejects.toMatchObject({ status: 403 });
  });
});

import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { bellEmail, noLimits, type SendingLimits } from "../../src/core/emails";
import type { EmailSetting } from "../../src/core/launch";
import { queueLastCalls } from "../../src/server/launch";
import { bellEmailOf, queueBellEmail } from "../../src/server/launch/bellEmails";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { rescheduleEmails } from "../../src/server/launch/rescheduleEmails";
import { correctPerson } from "../../src/server/people/changePerson";
import { correctable } from "../../src/server/people/contactOfPerson";
import { optIn } from "../../src/server/people/optIn";
import { changeSendingLimits } from "../../src/server/settings";
import { claimBulk, confirmEmails } from "../../src/store/emails/claim";
import { writeEmails } from "../../src/store/emails/launchEmails";
import { sendingSetting } from "../../src/store/settings/sending";
import { Contact, EmailMessage, OutboxWork } from "../../src/store/tables";
import { openLaunch, sendEmail, sentBy, setSettings, someone, startWorld, visitor, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const hour = 3_600_000;
const hung = (id: string, minutes: number): EmailSetting => ({ id, hangsOn: "closing", minutes, time: null, to: "list" });
const limit = async (limits: Partial<SendingLimits>) =>
  changeSendingLimits(em(), world.owner, { version: (await sendingSetting(em())).version, limits: { ...noLimits, ...limits } }, now());
const night = { from: "22:00", to: "08:00" };
/** The launch's close, at midnight in Lisbon. */
const setClock = (at: Date) => world.app.clock.setTo(em(), at);

/** A launch whose doors close at a midnight of Lisbon, with emails that are written. */
const closing = async (...emails: EmailSetting[]): Promise<{ of: LaunchContext; closes: Date }> => {
  const of = await openLaunch(world);
  await writeEmails(em(), of.launch.id, Object.fromEntries(emails.map(({ id }) => [id, bellEmail(id, "Words.")])), now());
  const day = new Date(now().getTime() + 4 * 24 * hour).toISOString().slice(0, 10);
  const clock = { kind: "fixed" as const, runUp: "2026-01-01T00:00", opens: "2026-01-02T00:00", closes: `${day}T00:00` };
  const set = await setSettings(world, of, { clock, emails });
  if (set.plan.clock.kind !== "fixed") throw new Error("dates stay dates");
  return { of: set, closes: set.plan.clock.window.closes };
};
const reader = async (of: LaunchContext, zone: string) => {
  const email = `una.${randomUUID().slice(0, 8)}@heddle.example`;
  await optIn(em(), of, { email, firstName: "Una", answers: {} }, sentBy(visitor().visitorId, now(), { page: "" }));
  const contact = await em().findOneOrFail(Contact, { email });
  await em().nativeUpdate(Contact, { id: contact.id }, { zone });
  return em().findOneOrFail(Contact, { id: contact.id });
};
const emailsOf = async (to: { id: string }) =>
  (await em().find(EmailMessage, { contactId: to.id, kind: "bell" }, { orderBy: { dueAt: 1 } })).map(
    ({ id, data, dueAt, state, lastCall, stoppedBecause, sentAt }) => ({
      id,
      email: (data as { email: string }).email,
      dueAt,
      became: stoppedBecause ?? state,
      lastCall,
      sentAt,
    }),
  );
/** Sends what is due to somebody. */
const send = async (to: { id: string }) => {
  for (const { id, became, dueAt } of await emailsOf(to)) if (became === "due" && dueAt <= now()) await sendEmail(world, id);
};
const queueOnBell = (of: LaunchContext, id: string) =>
  queueBellEmail(em(), of, bellEmailOf(of.plan, id)!, undefined, { dueAt: now(), lastCall: false }, { after: null, most: 50 });

describe("the last email before a close", () => {
  it("is queued two days ahead, for each reader before their own night, and once; who joins later gets it with their zone, or at the bell", async () => {
    await limit({ quiet: night });
    const { of, closes } = await closing(hung("day", -1440), hung("hour", -60));
    const [lisbon, york] = [await reader(of, "Europe/Lisbon"), await reader(of, "America/New_York")];
    await queueLastCalls(world.app, of.launch.id);
    expect(await emailsOf(lisbon)).toEqual([]);
    const wake = await em().findOneOrFail(OutboxWork, { key: `last_calls:${of.launch.id}` });
    expect(wake.dueAt).toEqual(new Date(closes.getTime() - 49 * hour));
    await setClock(wake.dueAt);
    await queueLastCalls(world.app, of.launch.id);
    await queueLastCalls(world.app, of.launch.id);
    expect(await emailsOf(lisbon)).toMatchObject([{ email: "hour", dueAt: new Date(closes.getTime() - 2.25 * hour), lastCall: true, became: "due" }]);
    expect(await emailsOf(york)).toMatchObject([{ email: "hour", dueAt: new Date(closes.getTime() - hour), lastCall: true }]);
    const late = await reader(of, "Europe/Lisbon");
    await setClock(new Date(closes.getTime() - 2.25 * hour));
    await queueLastCalls(world.app, of.launch.id);
    for (const one of [lisbon, late, york]) await send(one);
    expect((await emailsOf(lisbon))[0]).toMatchObject({ became: "sent" });
    expect((await emailsOf(late))[0]).toMatchObject({ became: "sent" });
    expect((await emailsOf(york))[0]).toMatchObject({ became: "due" });
  });
  it("is dated anew where the bell, its reader's zone or the limits are moved", async () => {
    await limit({ quiet: night });
    const { of, closes } = await closing(hung("hour", -60));
    const one = await reader(of, "Europe/Lisbon");
    await setClock(new Date(closes.getTime() - 48 * hour));
    await queueLastCalls(world.app, of.launch.id);
    const seen = correctable(one);
    await correctPerson(em(), world.owner, one.personId, { ...seen, zone: "Europe/Athens", seen }, now());
    await send(one);
    expect(await emailsOf(one)).toMatchObject([{ dueAt: new Date(closes.getTime() - 4.25 * hour), became: "due", lastCall: true }]);
    const moved = await setSettings(world, of, { emails: [hung("hour", -60), hung("quarter", -15)] });
    await rescheduleEmails(world.app, of.launch.id);
    await send(one);
    expect(await emailsOf(one)).toMatchObject([
      { email: "quarter", dueAt: new Date(closes.getTime() - 4.25 * hour), lastCall: true },
      { email: "hour", dueAt: new Date(closes.getTime() - hour), lastCall: false, became: "due" },
    ]);
    await limit({});
    await rescheduleEmails(world.app, moved.launch.id);
    await send(one);
    expect((await emailsOf(one)).map(({ dueAt }) => (closes.getTime() - dueAt.getTime()) / 60_000)).toEqual([60, 15]);
  });
});

describe("emails to many", () => {
  it("wait for the morning of their reader, and are dropped where the doors are closed by then", async () => {
    await limit({ quiet: night });
    const { of, closes } = await closing(hung("evening", -25 * 60), hung("night", -90), hung("hour", -60));
    const [lisbon, york] = [await reader(of, "Europe/Lisbon"), await reader(of, "America/New_York")];
    await setClock(new Date(closes.getTime() - 25 * hour));
    await queueOnBell(of, "evening");
    for (const one of [lisbon, york]) await send(one);
    expect(await emailsOf(lisbon)).toMatchObject([{ became: "due", dueAt: new Date(closes.getTime() - 16 * hour) }]);
    expect(await emailsOf(york)).toMatchObject([{ became: "sent" }]);
    await setClock(new Date(closes.getTime() - 16 * hour));
    await send(lisbon);
    expect(await emailsOf(lisbon)).toMatchObject([{ became: "sent" }]);
    // Of two in one night the last has gone before it, and the other says nothing new.
    await setClock(new Date(closes.getTime() - 90 * 60_000));
    await queueOnBell(of, "night");
    for (const one of [lisbon, york]) await send(one);
    expect((await emailsOf(lisbon)).find(({ email }) => email === "night")).toMatchObject({ became: "next_is_due" });
    expect((await emailsOf(york)).find(({ email }) => email === "night")).toMatchObject({ became: "sent" });
  });
  it("are at most so many a day to one person over all launches, of which a last call is one", async () => {
    await limit({ perDay: 1 });
    const one = await closing(hung("a", -30 * 60), hung("b", -29 * 60), hung("hour", -60));
    const other = await closing(hung("c", -29 * 60), hung("d", -5 * 60), hung("hour", -60));
    const person = await reader(one.of, "Europe/Lisbon");
    await optIn(em(), other.of, { email: person.email, firstName: "Una", answers: {} }, sentBy(visitor().visitorId, now(), { page: "" }));
    await setClock(new Date(one.closes.getTime() - 30 * hour));
    await queueOnBell(one.of, "a");
    await send(person);
    await setClock(new Date(one.closes.getTime() - 29 * hour));
    await queueOnBell(other.of, "c");
    await send(person);
    const became = async (id: string) => (await emailsOf(person)).find(({ email }) => email === id);
    expect(await became("a")).toMatchObject({ became: "sent" });
    expect(await became("c")).toMatchObject({ became: "due" });
    expect(Math.round((one.closes.getTime() - (await became("c"))!.dueAt.getTime()) / 60_000)).toBe(6 * 60);
    for (const { of } of [one, other]) await queueLastCalls(world.app, of.launch.id);
    await setClock(new Date(one.closes.getTime() - 6 * hour + 60_000));
    await send(person);
    expect(await became("c")).toMatchObject({ became: "too_late" });
    await setClock(new Date(one.closes.getTime() - 5 * hour));
    await queueOnBell(other.of, "d");
    await send(person);
    // The one email of the day is kept for the last hour, and this one is of no use after it.
    expect(await became("d")).toMatchObject({ became: "cap_past_close" });
    // Two doors close at the same hour: neither last call is dropped.
    await setClock(new Date(one.closes.getTime() - hour));
    await send(person);
    expect((await emailsOf(person)).filter(({ email }) => email === "hour").map(({ became: of }) => of)).toEqual(["sent", "sent"]);
  });
  it("of one person are in one hand at a time, and no more in a minute than the mail server takes", async () => {
    await limit({ perMinute: 3 });
    const { of, closes } = await closing(hung("a", -30 * 60), hung("b", -30 * 60));
    const people = await Promise.all(Array.from({ length: 4 }, () => reader(of, "Europe/Lisbon")));
    await setClock(new Date(closes.getTime() - 30 * hour));
    for (const id of ["a", "b"]) await queueOnBell(of, id);
    const workers = [randomUUID(), randomUUID()];
    for (const id of workers) await em().execute("insert into worker (id) values (?)", [id]);
    const claimed = await Promise.all(workers.map((id) => claimBulk(em(), id, now(), 64)));
    expect(claimed.flat()).toHaveLength(3);
    expect(new Set(claimed.flat().map(({ contactId }) => contactId)).size).toBe(3);
    for (const [index, some] of claimed.entries())
      await confirmEmails(
        em(),
        workers[index]!,
        some.map(({ id }) => ({ id, state: "sent" as const })),
        [],
        now(),
      );
    expect(await claimBulk(em(), workers[0]!, now(), 64)).toEqual([]);
    await setClock(new Date(now().getTime() + 60_000));
    const all = claimed.flat();
    await limit({});
    for (let some = await claimBulk(em(), workers[0]!, now(), 64); some.length > 0; some = await claimBulk(em(), workers[0]!, now(), 64)) {
      all.push(...some);
      await confirmEmails(
        em(),
        workers[0]!,
        some.map(({ id }) => ({ id, state: "sent" as const })),
        [],
        now(),
      );
    }
    expect(all.filter(({ contactId }) => people.some(({ id }) => id === contactId))).toHaveLength(8);
    expect(new Set(all.map(({ id }) => id)).size).toBe(all.length);
  });
});

describe("the limits of sending", () => {
  it("are an owner's, are not written over somebody else's, and have every launch dated anew", async () => {
    const { version } = await sendingSetting(em());
    const limits = { ...noLimits, perDay: 2 };
    for (const role of ["editor", "finance", "viewer"] as const)
      await expect(changeSendingLimits(em(), someone(role), { version, limits }, now())).rejects.toMatchObject({ message: "not_allowed" });
    await em().nativeDelete(OutboxWork, { topic: "reschedule_emails" });
    const both = await Promise.allSettled(
      [1, 2].map((perDay) => changeSendingLimits(em(), world.owner, { version, limits: { ...limits, perDay } }, now())),
    );
    expect(both.map(({ status }) => status).sort()).toEqual(["fulfilled", "rejected"]);
    expect(await em().count(OutboxWork, { topic: "reschedule_emails" })).toBeGreaterThan(0);
    expect((await sendingSetting(em())).version).toBe(version + 1);
  });
});

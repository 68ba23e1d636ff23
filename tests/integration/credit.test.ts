import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { commissionOn } from "../../src/core/partners";
import { recordTouch } from "../../src/server/partners/touch";
import { writeEvents } from "../../src/store/events/writeEvents";
import { optIn, unsubscribe } from "../../src/server/people/optIn";
import { Contact } from "../../src/store/tables";
import { partnerOrders } from "../../src/store/partners/partnerOrders";
import { partnerStats } from "../../src/store/partners/partnerStats";
import { launchCurve } from "../../src/store/launch/launchCurve";
import { stageFunnel } from "../../src/store/leaks/stageFunnel";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { addPartner, advance, buy, buyer, openLaunch, clickBy, decide, startWorld, visitor, type World, sentBy } from "../support/world";

let world: World;
let context: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  context = await openLaunch(world);
});
afterAll(() => world.stop());

const touch = (code: string, visitorId: string) => recordTouch(world.app.fork(), context.launch.id, clickBy(code), visitorId, world.app.clock.now());
const join = (visitorId: string, email: string, from = "1.1.1.1") =>
  optIn(world.app.fork(), context, { email, firstName: "Ada", answers: {} }, sentBy(visitorId, world.app.clock.now(), { from }));

describe("a partner's credit", () => {
  it("is carried from the link to the order, and earns on every line, held until the refund window ends", async () => {
    const partner = await addPartner(world, "skerry");
    const who = visitor();
    await touch("skerry", who.visitorId);
    const { order } = await buy(world, context, who);
    expect(order).toMatchObject({ partnerId: partner.id, credit: { partnerName: "SKERRY", rule: "last_touch", windowDays: 60 } });
    await decide(world, context, order!.id, context.steps[0]!.id, "yes");
    const { lines: earned } = await partnerOrders(world.app.fork(), partner.id, { from: 0, most: 100 });
    expect(earned.map(({ minor, baseMinor }) => minor === commissionOn(baseMinor, 4_000))).toEqual([true, true]);
    const now = world.app.clock.now();
    const [stats] = await partnerStats(world.app.fork(), { now, launchId: context.launch.id }, [partner.id]);
    expect(stats).toMatchObject({ clicks: 1, orders: 1, due: { EUR: 0 }, pending: { EUR: earned.reduce((sum, { minor }) => sum + minor, 0) } });
    const later = new Date(now.getTime() + 36 * 86_400_000);
    expect((await partnerStats(world.app.fork(), { now: later, launchId: context.launch.id }, [partner.id]))[0]).toMatchObject({
      pending: { EUR: 0 },
      due: stats!.pending,
    });
    const [payable] = await world.app.fork().execute<{ sum: string }[]>("select sum(minor) from posting where partner_id = ?", [partner.id]);
    expect(-Number(payable!.sum)).toBe(stats!.pending["EUR"]);
  });

  it("survives a change of device through the address", async () => {
    const partner = await addPartner(world, "tideline");
    const phone = visitor();
    const person = buyer();
    await touch("tideline", phone.visitorId);
    await join(phone.visitorId, person.email);
    const { order } = await buy(world, context, visitor(), person);
    expect(order!.partnerId).toBe(partner.id);
  });

  it("goes to the last link, and the order keeps the earlier one with the reason", async () => {
    await addPartner(world, "first");
    const last = await addPartner(world, "last");
    const who = visitor();
    await touch("first", who.visitorId);
    await advance(world, 5);
    await touch("last", who.visitorId);
    const { order } = await buy(world, context, who);
    expect(order!.partnerId).toBe(last.id);
    expect(order!.credit.touches.map(({ partnerName, rejected }) => [partnerName, rejected])).toEqual([
      ["FIRST", "replaced_by_later"],
      ["LAST", undefined],
    ]);
  });

  it("is nothing for a partner who buys for themself", async () => {
    const partner = await addPartner(world, "self", 4_000, "self@wool.example");
    const who = visitor();
    await touch("self", who.visitorId);
    const { order } = await buy(world, context, who, { ...buyer(), email: partner.email });
    expect(order!.partnerId).toBeNull();
    expect(order!.credit.touches[0]!.rejected).toBe("own_purchase");
  });

  it("counts a link that is opened again within a minute once, and an unknown code not at all", async () => {
    const partner = await addPartner(world, "twice");
    const who = visitor();
    await touch("twice", who.visitorId);
    await touch("twice", who.visitorId);
    await touch("nobody", who.visitorId);
    expect((await partnerStats(world.app.fork(), { now: world.app.clock.now(), launchId: context.launch.id }, [partner.id]))[0]!.clicks).toBe(1);
  });
});

describe("an opt-in", () => {
  it("keeps the consent as it was shown, and queues one welcome however often it is sent", async () => {
    const who = visitor();
    const { email } = buyer();
    await join(who.visitorId, email);
    await join(who.visitorId, email.toUpperCase());
    const contact = await world.app.fork().findOneOrFail(Contact, { email });
    expect(contact.consentText).toBe("Yes, you may write to me.");
    const [row] = await world.app
      .fork()
      .execute<{ n: string }[]>("select count(*) as n from email_message where contact_id = ? and kind = 'welcome'", [contact.id]);
    expect(Number(row!.n)).toBe(1);
  });
  it("makes one contact of many requests at once", async () => {
    const { email } = buyer();
    await Promise.all(Array.from({ length: 6 }, () => join(randomUUID(), email)));
    expect(await world.app.fork().count(Contact, { email })).toBe(1);
  });
  it("of a program that fills the hidden field leaves nothing", async () => {
    const { email } = buyer();
    const request = { email, firstName: "Bot", answers: {}, website: "https://spam.example" };
    await optIn(world.app.fork(), context, request, sentBy(randomUUID(), world.app.clock.now()));
    expect(await world.app.fork().count(Contact, { email })).toBe(0);
  });
  it("is limited for one browser, and not for another at the same address", async () => {
    // All within one window of the limit, however slow the machine is.
    const now = world.app.clock.now();
    const send = (visitorId: string) =>
      optIn(
        world.app.fork(),
        context,
        { email: buyer().email, firstName: "Ada", answers: {} },
        sentBy(visitorId, now, { from: "3.3.3.3", known: true }),
      ).then(
        () => "ok",
        (error: { code: string }) => error.code,
      );
    const [busy, other] = [randomUUID(), randomUUID()];
    const results: string[] = [];
    for (let n = 0; n < 31; n += 1) results.push(await send(busy));
    expect(results.filter((result) => result === "too_many")).toHaveLength(1);
    expect(await send(other)).toBe("ok");
  });
  it("can be taken back, and taken back again", async () => {
    const { email } = buyer();
    await join(randomUUID(), email);
    const { id } = await world.app.fork().findOneOrFail(Contact, { email });
    await unsubscribe(world.app.fork(), id, world.app.clock.now());
    await unsubscribe(world.app.fork(), id, world.app.clock.now());
    expect((await world.app.fork().findOneOrFail(Contact, { email })).unsubscribedAt).not.toBeNull();
  });
});

describe("the roll-up of stages", () => {
  it("keeps the first time per person and stage, in whatever order and batches events come", async () => {
    const own = await openLaunch(world);
    const visitorId = randomUUID();
    const start = world.app.clock.now().getTime();
    const event = (kind: "visited" | "saw_sales", minutes: number) => ({
      launchId: own.launch.id,
      visitorId,
      kind,
      at: new Date(start + minutes * 60_000),
      page: "sales",
      data: { variant: "A" },
    });
    await writeEvents(world.app.fork(), [event("saw_sales", 9), event("saw_sales", 5)]);
    await writeEvents(world.app.fork(), [event("visited", 1), event("saw_sales", 7)]);
    const [row] = await world.app
      .fork()
      .execute<{ visited: string; saw_sales: string }[]>("select visited, saw_sales from stage_rollup where launch_id = ?", [own.launch.id]);
    expect(new Date(row!.visited).getTime()).toBe(start + 60_000);
    expect(new Date(row!.saw_sales).getTime()).toBe(start + 5 * 60_000);
  });
  it("counts two browsers of one person once, when the address shows that they are one", async () => {
    const own = await openLaunch(world);
    const [phone, desk] = [randomUUID(), randomUUID()];
    const at = world.app.clock.now();
    await writeEvents(
      world.app.fork(),
      [phone, desk].map((visitorId) => ({ launchId: own.launch.id, visitorId, kind: "visited" as const, at, page: "optin", data: { variant: "A" } })),
    );
    expect((await stageFunnel(world.app.fork(), { launchId: own.launch.id, now: world.app.clock.now() })).visited).toBe(2);
    const { email } = buyer();
    for (const visitorId of [phone, desk]) {
      await optIn(world.app.fork(), own, { email, firstName: "Ada", answers: {} }, sentBy(visitorId, at));
    }
    expect(await stageFunnel(world.app.fork(), { launchId: own.launch.id, now: world.app.clock.now() })).toMatchObject({ visited: 1, opted_in: 1 });
  });
  it("loses no event when the log is stopped", async () => {
    const own = await openLaunch(world);
    for (let i = 0; i < 300; i += 1)
      world.app.events.add({
        launchId: own.launch.id,
        visitorId: randomUUID(),
        kind: "visited",
        at: world.app.clock.now(),
        page: "optin",
        data: { variant: "A" },
      });
    await world.app.events.flush();
    expect((await stageFunnel(world.app.fork(), { launchId: own.launch.id, now: world.app.clock.now() })).visited).toBe(300);
    const counted = await launchCurve(world.app.fork(), { launchId: own.launch.id, now: world.app.clock.now() });
    expect(counted.reduce((sum, { visits }) => sum + visits, 0)).toBe(300);
  });
});

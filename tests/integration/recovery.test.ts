import { simpleParser } from "mailparser";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { readLink, signLink } from "../../src/server/platform/access/signedLink";
import { setRecoveryDelay } from "../../src/server/leaks/setDelay";
import { currentCheckout, restoreCheckout, startCheckout } from "../../src/server/checkout/checkout";
import { optIn, unsubscribe } from "../../src/server/people/optIn";
import { Checkout, EmailMessage, Order } from "../../src/store/tables";
import { lostBuyers } from "../../src/store/leaks/lostBuyers";
import { loadLaunch, type LaunchContext } from "../../src/server/launch/launchContext";
import { advance, buy, buyer, openLaunch, sendEmail, startWorld, until, visitor, withWorker, type World, sentBy } from "../support/world";
import { followLink, readEmailLink } from "../../src/server/emails";

let world: World;
let context: LaunchContext;
beforeAll(async () => void (world = await startWorld()));
afterAll(() => world.stop());

const leave = async (who = visitor(), person = buyer()) => {
  const checkout = await startCheckout(world.app, world.app.fork(), context, person, who);
  const email = await world.app.fork().findOneOrFail(EmailMessage, { checkoutId: checkout.id, kind: "recovery" });
  return { who, person, checkout, email };
};
const stateOf = async (id: string) => world.app.fork().findOneOrFail(EmailMessage, { id });

describe("the email to a lost buyer", () => {
  beforeAll(async () => void (context = await openLaunch(world)));

  it("goes once, after the delay and not before, with a link that restores the checkout", async () => {
    const { person, checkout, email, who } = await leave();
    await withWorker(world, async () => {
      await advance(world, 29);
      await new Promise((next) => setTimeout(next, 1_200));
      expect((await stateOf(email.id)).state).toBe("due");
      await advance(world, 2);
      await until(async () => (await world.inbox(person.email)).length === 1);
    });
    // Sent again by a job that runs twice: still one email.
    await sendEmail(world, email.id);
    const [received, ...more] = await world.inbox(person.email);
    expect(more).toEqual([]);
    const mail = await simpleParser(received!.raw);
    expect(mail.subject).toBe("You have not finished your order of The Workshop");
    expect(mail.text).toContain("Nothing was charged");
    const link = readEmailLink(world.app, /http\S+\/e\/([\w.-]+)/.exec(mail.text ?? "")![1]!);
    expect(link).toEqual({ emailId: email.id, to: { to: "next" } });
    const { location } = (await followLink(world.app, { emailId: email.id, to: { to: "next" } }, { passive: false, head: true }))!;
    const { pathname, searchParams } = new URL(location);
    expect(pathname).toBe(`/l/${context.launch.slug}/checkout`);
    expect(searchParams.get("k")).toBeTruthy();
    expect(readLink(world.app.config.INKBELL_SECRET, "restore_checkout", searchParams.get("r"), world.app.clock.now())).toBe(checkout.id);

    const other = visitor();
    expect(await currentCheckout(world.app.fork(), context, other.visitorId)).toBeUndefined();
    await restoreCheckout(world.app.fork(), context, checkout.id, other.visitorId, world.app.clock.now());
    expect(await currentCheckout(world.app.fork(), context, other.visitorId)).toMatchObject({ ...person, id: checkout.id });
    const { order } = await buy(world, context, other, person);
    expect(order).toMatchObject({ recovered: true, checkoutId: checkout.id });
    expect(await lostBuyers(world.app.fork(), { launchId: context.launch.id, now: world.app.clock.now() })).toMatchObject({
      sent: 1,
      recovered: 1,
      recoveredGross: { EUR: 14_900 },
    });
    expect(who).toBeDefined();
  });

  it("carries the headers of RFC 8058 and RFC 2369, as an independent parser reads them", async () => {
    const { person, email } = await leave();
    await advance(world, 31);
    await sendEmail(world, email.id);
    const [received] = await world.inbox(person.email);
    const mail = await simpleParser(received!.raw);
    const list = mail.headers.get("list") as { unsubscribe?: { url?: string }; "unsubscribe-post"?: { name?: string } };
    expect(list.unsubscribe?.url).toMatch(/^http.*\/unsubscribe\?u=/);
    expect(JSON.stringify(list["unsubscribe-post"])).toContain("One-Click");
    expect(mail.messageId).toBe(`<${email.id}@127.0.0.1>`);
  });

  it("is stopped by a purchase, also one in another browser", async () => {
    const { person, email } = await leave();
    await buy(world, context, visitor(), person);
    await advance(world, 31);
    await sendEmail(world, email.id);
    expect(await stateOf(email.id)).toMatchObject({ state: "stopped", stoppedBecause: "paid" });
    expect((await world.inbox(person.email)).filter(({ subject }) => subject.includes("not paid"))).toEqual([]);
  });

  it("is one for a person, about the checkout they left last", async () => {
    const person = buyer();
    const first = await leave(visitor(), person);
    await advance(world, 10);
    const second = await startCheckout(world.app, world.app.fork(), context, person, visitor());
    const emails = await world.app.fork().find(EmailMessage, { contactId: first.checkout.contactId!, kind: "recovery" });
    expect(emails).toHaveLength(1);
    expect(emails[0]).toMatchObject({ checkoutId: second.id, dueAt: new Date(second.lastActivityAt.getTime() + 30 * 60_000) });
  });

  it("is stopped by an unsubscribe", async () => {
    const { person, email, checkout } = await leave();
    await unsubscribe(world.app.fork(), checkout.contactId!, world.app.clock.now());
    await advance(world, 31);
    await sendEmail(world, email.id);
    expect((await stateOf(email.id)).stoppedBecause).toBe("unsubscribed");
    expect(await world.inbox(person.email)).toEqual([]);
  });

  it("is stopped by the closing bell, and not even planned when the bell comes first", async () => {
    context = await openLaunch(world, { closesIn: 1 });
    const { email } = await leave();
    await advance(world, 40);
    const late = buyer();
    const checkout = await startCheckout(world.app, world.app.fork(), context, late, visitor());
    expect(await world.app.fork().count(EmailMessage, { checkoutId: checkout.id })).toBe(0);
    await advance(world, 25);
    await sendEmail(world, email.id);
    expect((await stateOf(email.id)).stoppedBecause).toBe("doors_closed");
  });

  it("waits on while the buyer is still at it", async () => {
    context = await openLaunch(world);
    const { email, checkout } = await leave();
    await advance(world, 20);
    const at = world.app.clock.now();
    const look = { launchId: context.launch.id, visitorId: checkout.visitorId, at, data: { variant: "A" } };
    world.app.events.add({ ...look, kind: "visited", page: "checkout" });
    // Looking at something else, or at the checkout of another launch, is no sign of it.
    world.app.events.add({ ...look, kind: "visited", page: "optin", at: new Date(at.getTime() + 60_000) });
    await world.app.events.flush();
    expect((await world.app.fork().findOneOrFail(Checkout, { id: checkout.id })).lastActivityAt).toEqual(at);
    await advance(world, 11);
    await sendEmail(world, email.id);
    const after = await stateOf(email.id);
    expect(after.state).toBe("due");
    expect(after.dueAt.getTime()).toBeGreaterThan(world.app.clock.now().getTime());
  });

  it("moves with the delay that the desk sets, for those that wait already", async () => {
    const { email, checkout } = await leave();
    await setRecoveryDelay(world.app.fork(), world.owner, context.launch.id, 5);
    expect((await stateOf(email.id)).dueAt.getTime()).toBe(checkout.lastActivityAt.getTime() + 5 * 60_000);
    expect((await loadLaunch(world.app.fork(), { id: context.launch.id }))!.launch.recoveryDelayMinutes).toBe(5);
  });
});

describe("other emails", () => {
  it("welcome a subscriber with the hour of the opening, in the launch's zone", async () => {
    const early = await openLaunch(world, { opensIn: 30, closesIn: 60 });
    const { email } = buyer();
    const visitorId = visitor().visitorId;
    await optIn(world.app.fork(), early, { email, firstName: "Ada", answers: {} }, sentBy(visitorId, world.app.clock.now()));
    await withWorker(world, () => until(async () => (await world.inbox(email)).length === 1));
    expect((await world.inbox(email))[0]!.text).toContain("Lisbon time");
  });
  it("bring the receipt of an order with its lines, once, after a while even if the buyer never arrives", async () => {
    const shop = await openLaunch(world);
    const { order, person } = await buy(world, shop);
    await withWorker(world, async () => {
      await advance(world, 16);
      await until(async () => (await world.inbox(person.email)).length === 1);
    });
    const [receipt] = await world.inbox(person.email);
    expect(receipt!.subject).toBe(`Your receipt, order ${(await world.app.fork().findOneOrFail(Order, { id: order!.id })).number}`);
    expect(receipt!.text).toContain("The Workshop: €149.00, incl. VAT €27.86");
    expect(receipt!.headers["list-unsubscribe"]).toBeUndefined();
  });
});

describe("signed links", () => {
  const secret = "a secret of at least thirty-two letters";
  const now = new Date("2026-11-23T12:00:00Z");
  it("open for their purpose alone, until they expire, and not with another secret", () => {
    const token = signLink(secret, "order", "row", now, 1);
    expect(readLink(secret, "order", token, now)).toBe("row");
    expect(readLink(secret, "unsubscribe", token, now)).toBeUndefined();
    expect(readLink(secret, "order", token, new Date(now.getTime() + 86_400_000 + 1000))).toBeUndefined();
    expect(readLink("another secret of thirty-two letters", "order", token, now)).toBeUndefined();
    for (const broken of [null, "", "x", `${token}x`]) expect(readLink(secret, "order", broken, now)).toBeUndefined();
  });
});

import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { bellEmail } from "../../src/core/emails";
import { senderSetting, type SenderSetting } from "../../src/core/launch";
import type { Target } from "../../src/core/pages";
import { clickSeen, emailOpened, followLink, readEmailLink } from "../../src/server/emails";
import { batchOf, readyEmail } from "../../src/server/emails/compose";
import { emailLink, openedPicture } from "../../src/server/emails/followLink";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { changeAddress } from "../../src/server/pages/changeAddress";
import { erasePerson } from "../../src/server/people/erasePerson";
import { optIn } from "../../src/server/people/optIn";
import { changePreferences } from "../../src/server/people/preferences";
import { senderOf } from "../../src/server/platform";
import { answerPage } from "../../src/server/site/answer";
import { emailFigures, linkFigures } from "../../src/store/emails/emailFigures";
import { writeEmails } from "../../src/store/emails/launchEmails";
import { queueEmail } from "../../src/store/emails/queueEmail";
import { Contact, EmailClick, EmailMessage, Page } from "../../src/store/tables";
import { advance, buy, openLaunch, sendEmail, sentBy, setSettings, startWorld, until, visitor, type World } from "../support/world";

let world: World;
let of: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  of = await openLaunch(world, { closesIn: 24 * 20 });
  await writeEmails(em(), of.launch.id, Object.fromEntries(["first", "second"].map((key) => [key, bellEmail(`The ${key}`, "Words.")])), now());
  const alone = (id: string) => ({ id: `of-${id}`, name: id, from: { on: "opt_in" as const }, untilBought: false, untilClosed: false, steps: [{ id, minutes: 0, time: null, when: null }] }); // prettier-ignore
  of = await setSettings(world, of, { sequences: ["first", "second"].map(alone) });
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const toPage: Target = { to: "page", page: "sales" };
const toNext: Target = { to: "next" };
const outside: Target = { to: "outside", url: "https://guild.example/pattern?size=2" };

/** Somebody on the list who got a step of a sequence. */
const reader = async (key = "first") => {
  const email = `una.${randomUUID().slice(0, 8)}@heddle.example`;
  const who = visitor();
  await optIn(em(), of, { email, firstName: "Una", answers: {} }, sentBy(who.visitorId, now(), { page: "" }));
  const contact = await em().findOneOrFail(Contact, { email });
  const sent = await alsoGot(contact, key);
  return { ...who, email, contact, sent };
};
const alsoGot = async (contact: Contact, key: string): Promise<string> => {
  const at = { launchId: of.launch.id, contactId: contact.id, dueAt: now() };
  const data = { sequence: `of-${key}`, step: key, moment: now().toISOString() };
  await em().transactional((tx) => queueEmail(tx, { key: `step:${of.launch.id}:${key}:${contact.id}`, kind: "step", data, ...at }));
  const { id } = await em().findOneOrFail(EmailMessage, { key: `step:${of.launch.id}:${key}:${contact.id}` });
  await sendEmail(world, id);
  expect(await em().findOneOrFail(EmailMessage, { id })).toMatchObject({ state: "sent" });
  return id;
};
const tokenOf = (address: string) => address.split("/e/")[1]!;
const follow = async (emailId: string, to: Target, look = { passive: false, head: false }) => {
  const read = readEmailLink(world.app, tokenOf(emailLink(world.app, emailId, to)));
  expect(read).toEqual({ emailId, to });
  return followLink(world.app, { emailId, to }, look);
};
/** A browser comes to the page to which a link led. */
const come = async (location: string, emailClick: string | undefined, change: object = {}) => {
  const { pathname, searchParams } = new URL(location);
  const [, , slug, ...path] = pathname.split("/");
  const request = { slug: slug!, path: path.join("/"), query: searchParams, visitorId: randomUUID(), emailClick, ...change };
  return answerPage(world.app, request);
};
const figures = async (key = "first") => (await emailFigures(em(), of.launch.id, now())).find(({ email }) => email === key)!;
const settle = () => advance(world, 1);

describe("a link of an email", () => {
  it("stands in the email in place of where it leads, with a picture that tells that it was opened; what was asked for has neither", async () => {
    const { sent, contact } = await reader();
    const message = await em().findOneOrFail(EmailMessage, { id: sent });
    const ready = await readyEmail(await batchOf(world.app, [message]), message);
    if (!("mail" in ready)) throw new Error(JSON.stringify(ready));
    const { html, text, unsubscribe } = ready.mail;
    const links = [...html.matchAll(/href="([^"]+)"/g)].map(([, href]) => href!).filter((href) => !href.includes("/unsubscribe"));
    expect(links.length).toBeGreaterThan(0);
    for (const link of links) expect(readEmailLink(world.app, tokenOf(link))?.emailId).toBe(sent);
    expect(html).toContain(`src="${openedPicture(world.app, sent)}"`);
    expect(text).toContain("/e/");
    expect(text).not.toContain(openedPicture(world.app, sent));
    expect(unsubscribe).toContain(`&e=${sent}`);
    await em().transactional((tx) =>
      queueEmail(tx, { key: `library:${sent}`, kind: "library", launchId: of.launch.id, contactId: contact.id, dueAt: now(), data: {} }),
    );
    const library = await em().findOneOrFail(EmailMessage, { key: `library:${sent}` });
    const own = await readyEmail(await batchOf(world.app, [library]), library);
    expect("mail" in own && own.mail.html).not.toContain("/e/");
  });

  it("leads to its page by its reader's own clock, and counts as theirs once the page was seen and a moment has passed", async () => {
    const { sent } = await reader();
    const before = await figures();
    const followed = (await follow(sent, toPage))!;
    expect(new URL(followed.location).searchParams.get("k")).toBeTruthy();
    await settle();
    expect(await figures()).toMatchObject({ clicked: before.clicked, byMachine: before.byMachine + 1 });
    // A page that is only on the way is not seen yet.
    const onTheWay = await come(followed.location, followed.clickId);
    expect(onTheWay.status).toBe(303);
    await settle();
    expect((await figures()).clicked).toBe(before.clicked);
    const there = await come(followed.location.split("?")[0]!, followed.clickId);
    expect(there.status).toBe(200);
    expect(there.cookies?.some((cookie) => cookie.startsWith("ib_e=;"))).toBe(true);
    expect((await figures()).clicked).toBe(before.clicked);
    await settle();
    expect(await figures()).toMatchObject({ clicked: before.clicked + 1, byMachine: before.byMachine, opened: before.opened + 1 });
    // The same again is one person still.
    const again = (await follow(sent, toPage))!;
    await clickSeen(world.app, again.clickId!);
    await settle();
    expect((await figures()).clicked).toBe(before.clicked + 1);
  });

  it("that leads elsewhere goes there, and counts without a page", async () => {
    const { sent } = await reader("second");
    expect(await follow(sent, outside)).toEqual({ location: outside.url });
    await settle();
    expect(await figures("second")).toMatchObject({ clicked: 1, byMachine: 0 });
    expect(await linkFigures(em(), of.launch.id, "second", now())).toEqual([{ link: outside.url, people: 1, clicks: 1, byMachine: 0 }]);
  });

  it("that was followed along with all others at once was followed by a program, the first of them too", async () => {
    const { sent } = await reader();
    const before = await figures();
    const [first, second] = [(await follow(sent, toPage))!, (await follow(sent, outside))!];
    for (const { clickId } of [first, second]) if (clickId) await clickSeen(world.app, clickId);
    await settle();
    expect(await figures()).toMatchObject({ clicked: before.clicked, byMachine: before.byMachine + 1 });
    // Whoever opens it later is a person all the same.
    const mine = (await follow(sent, toPage))!;
    await clickSeen(world.app, mine.clickId!);
    await settle();
    expect((await figures()).clicked).toBe(before.clicked + 1);
  });

  it("that many follow at the same time is noted every time", async () => {
    const { sent } = await reader();
    await Promise.all([toPage, toNext, outside, toPage].map((to) => follow(sent, to)));
    const clicks = await em().find(EmailClick, { emailId: sent });
    expect([clicks.length, clicks.every(({ machine }) => machine)]).toEqual([4, true]);
  });

  it("that a program follows by its own word, or only looks at, is nobody's click", async () => {
    const { sent } = await reader();
    const before = await figures();
    const looked = await follow(sent, toPage, { passive: true, head: true });
    expect(looked).not.toHaveProperty("clickId");
    expect(await em().count(EmailClick, { emailId: sent })).toBe(0);
    const followed = (await follow(sent, toPage, { passive: true, head: false }))!;
    await come(followed.location.split("?")[0]!, followed.clickId);
    await settle();
    expect(await figures()).toMatchObject({ clicked: before.clicked, byMachine: before.byMachine + 1 });
  });

  it("leads to where its page is now", async () => {
    const { sent } = await reader();
    const page = await em().findOneOrFail(Page, { launchId: of.launch.id, key: "sales" });
    // A change reaches this process by a notification of the database's, a moment after it was made.
    const leadsTo = (path: string) =>
      until(async () => new URL((await follow(sent, toPage, { passive: false, head: true }))!.location).pathname === `/l/${of.launch.slug}/${path}`);
    const move = (address: string) => changeAddress(em(), world.owner, page.id, { address }, now());
    await leadsTo(page.slug);
    await move("the-offer");
    try {
      await leadsTo("the-offer");
    } finally {
      await move(page.slug);
    }
    await leadsTo(page.slug);
  });

  it("that was made up, cut or changed leads nowhere", async () => {
    const { sent } = await reader();
    const token = tokenOf(emailLink(world.app, sent, outside));
    const [id, leads, seal] = token.split(".") as [string, string, string];
    const elsewhere = Buffer.from(JSON.stringify({ to: "outside", url: "https://thief.example/" })).toString("base64url");
    for (const wrong of [
      "",
      ".",
      token.slice(0, -1),
      `${id}.${elsewhere}.${seal}`,
      `${id}.${seal}`,
      `${id}.${leads}`,
      `${token}x`,
      `${token}.${seal}`,
    ])
      expect(readEmailLink(world.app, wrong), wrong).toBeUndefined();
    const other = { config: { ...world.app.config, INKBELL_SECRET: "another secret of another installation" } };
    expect(readEmailLink(other, token)).toBeUndefined();
    expect(await followLink(world.app, { emailId: randomUUID(), to: toPage }, { passive: false, head: false })).toBeUndefined();
  });

  it("of somebody who was erased leads to the page, and names nobody", async () => {
    const { sent, contact } = await reader();
    await erasePerson(world.app, em(), world.owner, contact.personId, now());
    const followed = (await follow(sent, toPage))!;
    expect(new URL(followed.location).search).toBe("");
  });
});

describe("the sender of a launch's emails", () => {
  it("is the launch's own where it has one, its name or the vendor's; else the vendor's", async () => {
    const { sent } = await reader();
    const from = async (sender: SenderSetting | null) => {
      of = await setSettings(world, of, { sender });
      const message = await em().findOneOrFail(EmailMessage, { id: sent });
      const ready = await readyEmail(await batchOf(world.app, [message]), message);
      return "mail" in ready ? ready.mail.from : ready;
    };
    const usual = await from(null);
    expect(usual).toEqual(senderOf(world.app));
    expect(await from({ name: "The Workshop", email: "workshop@marram.example" })).toEqual({
      name: "The Workshop",
      address: "workshop@marram.example",
    });
    expect(await from({ name: "", email: "workshop@marram.example" })).toMatchObject({ name: senderOf(world.app).name });
    expect(await from(null)).toEqual(usual);
    for (const email of ["nobody", "", "a@b, c@d.example"]) expect(senderSetting.safeParse({ name: "", email }).success, email).toBe(false);
  });
});

describe("an email", () => {
  it("was opened once its picture was fetched, the first time", async () => {
    const { sent } = await reader();
    await emailOpened(world.app, sent);
    const first = (await em().findOneOrFail(EmailMessage, { id: sent })).openedAt;
    expect(first).not.toBeNull();
    await settle();
    await emailOpened(world.app, sent);
    expect((await em().findOneOrFail(EmailMessage, { id: sent })).openedAt).toEqual(first);
  });

  it("earns the orders of the days after a click in it, each order for the email that was clicked last", async () => {
    const who = await reader();
    const later = await alsoGot(who.contact, "second");
    const [first, second] = [await figures(), await figures("second")];
    for (const sent of [who.sent, later]) {
      await clickSeen(world.app, (await follow(sent, toPage))!.clickId!);
      await settle();
    }
    const { order } = await buy(world, of, who, { email: who.email, firstName: "Una", country: "PT" });
    await settle();
    expect(await figures()).toMatchObject({ orders: first.orders, revenue: first.revenue });
    expect(await figures("second")).toMatchObject({ orders: second.orders + 1, revenue: { [order!.currency]: 14_900 } });
    // Figures of the past know nothing of it.
    const past = await emailFigures(em(), of.launch.id, new Date(order!.placedAt.getTime() - 1));
    expect(past.find(({ email }) => email === "second")!.orders).toBe(second.orders);
  });

  it("does not earn an order of later days, nor one without a click", async () => {
    const [late, without] = [await reader(), await reader()];
    const before = await figures();
    await clickSeen(world.app, (await follow(late.sent, toPage))!.clickId!);
    await advance(world, 3 * 1440);
    for (const who of [late, without]) await buy(world, of, who, { email: who.email, firstName: "Una", country: "PT" });
    expect((await figures()).orders).toBe(before.orders);
  });

  it("counts who unsubscribed by its link, and nobody else's", async () => {
    const [one, other] = [await reader(), await reader()];
    const before = await figures();
    await changePreferences(em(), one.contact.id, { slug: null, email: other.sent }, { emails: "none" }, now());
    expect((await figures()).left).toBe(before.left);
    await changePreferences(em(), other.contact.id, { slug: of.launch.slug, email: other.sent }, { emails: "all", leave: "yes" }, now());
    await changePreferences(em(), other.contact.id, { slug: null, email: other.sent }, { emails: "none" }, now());
    expect((await figures()).left).toBe(before.left + 1);
  });
});

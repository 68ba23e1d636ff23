import { launchesOf } from "../../src/server/launch/launchCache";
import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { builder, firstBlock, idsFrom, pageOf, type BlockOf } from "../../src/core/pages";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { personLink } from "../../src/server/emails/personLink";
import { addPage } from "../../src/server/pages/addPage";
import { answerPage } from "../../src/server/site/answer";
import { storeMedia } from "../../src/server/pages/media";
import { publishPage, saveDraft } from "../../src/server/pages/publish";
import { confirmAddress, submitForm } from "../../src/server/site/submit";
import { recordTouch } from "../../src/server/partners/touch";
import { loadLaunch } from "../../src/server/launch/launchContext";
import { Contact, EmailMessage, OptIn, Page } from "../../src/store/tables";
import { addPartner, buy, buyer, clickBy, look, openLaunch, startWorld, until, withWorker, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const b = builder(idsFrom("b"));

/** A launch whose opt-in page has this form; with a page that says to look into the inbox, and one for after it. */
const launchWith = async (form: Partial<BlockOf<"form">>): Promise<LaunchContext> => {
  const context = await openLaunch(world, { opensIn: 24, closesIn: 48, offer: false });
  for (const [address, template] of [
    ["look", "confirm-inbox"],
    ["done", "confirm-done"],
  ] as const) {
    const page = await addPage(em(), world.owner, context, { address, headline: "", template, lookFrom: "" });
    await publishPage(em(), world.owner, page.id, "V", now());
  }
  const page = await em().findOneOrFail(Page, { launchId: context.launch.id, key: "optin" });
  await saveDraft(em(), world.owner, page.id, pageOf([b.section([b.title("T"), b.form("Go", { id: "ask", ...form })])]), page.version, now());
  await publishPage(em(), world.owner, page.id, "V", now());
  launchesOf(world.app).clear();
  return (await loadLaunch(em(), { id: context.launch.id }))!;
};
const send = (context: LaunchContext, email: string, change: Record<string, string> = {}, visitorId = randomUUID(), acceptLanguage?: string) => {
  const values = { page: "optin", block: "ask", firstName: "Ada", email, consent: "yes", shownAt: String(now().getTime() - 9_000), ...change };
  return submitForm(world.app, { slug: context.launch.slug, action: "opt-in", values, visitorId, from: visitorId, acceptLanguage });
};
const contactOf = (email: string) => em().findOne(Contact, { email });
const address = () => buyer().email;
/** The link of the confirming email that came to an address. */
const linkTo = async (email: string): Promise<string> =>
  withWorker(world, () => until(async () => (await world.inbox(email)).map(({ text }) => /confirm\?c=(\S+)/.exec(text)?.[1]).find(Boolean)));

describe("an address that is confirmed from its inbox", () => {
  it("counts from the press alone: before it no consent, no clock, no welcome, and no browser is tied to it", async () => {
    const context = await launchWith({ double: "always", checkPage: "look", confirmedPage: "done" });
    const [email, visitorId] = [address(), randomUUID()];
    expect((await send(context, email, {}, visitorId)).headers["location"]).toBe(`/l/${context.launch.slug}/look`);
    const before = (await contactOf(email))!;
    expect([before.consentAt, before.firstName]).toEqual([null, "Ada"]);
    expect(await em().execute("select 1 from visitor where person_id = ?", [before.personId])).toEqual([]);
    const token = await linkTo(email);
    expect(await em().count(EmailMessage, { contactId: before.id, kind: "welcome" })).toBe(0);
    expect(await confirmAddress(world.app, context.launch.slug, token, visitorId)).toBe(`/l/${context.launch.slug}/done`);
    expect(await confirmAddress(world.app, context.launch.slug, token, visitorId)).toBe(`/l/${context.launch.slug}/done`);
    expect((await contactOf(email))!.consentText).toBe(
      "Yes, Ink Bell may write to me about this launch. I can unsubscribe with one click.".replace("Ink Bell", world.app.vendor.name),
    );
    expect(await em().count(EmailMessage, { contactId: before.id, kind: "welcome" })).toBe(1);
    const rows = await em().execute("select acted_at from page_rollup where person_id = ? and page = 'optin'", [before.personId]);
    expect(rows).toHaveLength(1);
  });
  it("answers alike for an address that is on the list already, and asks it again", async () => {
    const context = await launchWith({ double: "always" });
    const email = address();
    const first = await send(context, email);
    await confirmAddress(world.app, context.launch.slug, await linkTo(email), randomUUID());
    const again = await send(context, email, { firstName: "Mallory" });
    expect([again.status, again.headers["location"]]).toEqual([first.status, first.headers["location"]]);
    expect((await contactOf(email))!.firstName).toBe("Ada");
    expect(await em().count(EmailMessage, { contactId: (await contactOf(email))!.id, kind: "confirm" })).toBe(2);
    const page = await answerPage(world.app, { slug: context.launch.slug, path: "", query: new URLSearchParams("asked=ask") });
    expect(page.body).toContain("One step is left");
  });
  it("keeps the partner's credit, though the link is opened on another device", async () => {
    const context = await launchWith({ double: "always" });
    const partner = await addPartner(world, `p${randomUUID().slice(0, 6)}`);
    const [email, desktop, phone] = [address(), randomUUID(), randomUUID()];
    await recordTouch(em(), context.launch.id, clickBy(partner.code), desktop, now());
    await send(context, email, {}, desktop);
    await confirmAddress(world.app, context.launch.slug, await linkTo(email), phone);
    const rows = await em().execute("select t.partner_id from touch t join touch_person p on p.touch_id = t.id where p.person_id = ?", [
      (await contactOf(email))!.personId,
    ]);
    expect(rows).toEqual([{ partner_id: partner.id }]);
  });
  it("is counted once, with the version of the page that was seen, though it is pressed twice at once and on another device", async () => {
    const context = await launchWith({ double: "always" });
    const [email, desktop, phone] = [address(), randomUUID(), randomUUID()];
    await answerPage(world.app, { slug: context.launch.slug, path: "", query: new URLSearchParams(), visitorId: desktop });
    await world.app.events.flush();
    await em().execute("update page_rollup set variant = 'B' where person_id = ?", [desktop]);
    await send(context, email, {}, desktop);
    const token = await linkTo(email);
    await Promise.all([phone, phone, randomUUID()].map((visitorId) => confirmAddress(world.app, context.launch.slug, token, visitorId)));
    const contact = (await contactOf(email))!;
    const rows = await em().execute("select person_id, variant, acted_at is not null as acted from page_rollup where launch_id = ?", [
      context.launch.id,
    ]);
    expect(rows).toEqual([{ person_id: contact.personId, variant: "B", acted: true }]);
    const [events] = await em().execute<{ n: string }[]>("select count(*) as n from event where launch_id = ? and kind = 'opted_in'", [
      context.launch.id,
    ]);
    expect(Number(events!.n)).toBe(1);
  });
  it("is asked for where the country does, or where a program seems to have sent the form; others are listed at once", async () => {
    const context = await launchWith({ double: "where_needed" });
    const outcome = async (change: Record<string, string>, language?: string) =>
      (await send(context, address(), change, randomUUID(), language)).headers["location"]!.replace(/.*\?/, "");
    expect(await outcome({}, "de-DE,de;q=0.9")).toBe("asked=ask");
    expect(await outcome({}, "pt-PT")).toBe("listed=ask");
    expect(await outcome({ shownAt: String(now().getTime() - 20) })).toBe("asked=ask");
    expect(await outcome({ shownAt: "soon" })).toBe("asked=ask");
  });
  it("is not written to for ever: after six tries within the hour the answer is the same and no email goes", async () => {
    const context = await launchWith({ double: "always" });
    const email = address();
    for (let n = 0; n < 8; n += 1) expect((await send(context, email)).headers["location"]).toContain("?asked=ask");
    expect(await em().count(OptIn, { contactId: (await contactOf(email))!.id })).toBe(6);
  });
  it("is confirmed by nothing but its own link", async () => {
    const context = await launchWith({ double: "always" });
    const email = address();
    await send(context, email);
    const contact = (await contactOf(email))!;
    for (const token of ["forged", personLink(world.app, contact.id), null]) {
      expect(await confirmAddress(world.app, context.launch.slug, token, randomUUID())).toBe(`/l/${context.launch.slug}?spoilt=1`);
    }
    expect((await look(world, context, "", undefined, { spoilt: "1" })).body).toContain("This link to confirm an address is incomplete");
    expect((await contactOf(email))!.consentAt).toBeNull();
    const other = await launchWith({ double: "always" });
    expect(await confirmAddress(world.app, other.launch.slug, await linkTo(email), randomUUID())).toBe(`/l/${other.launch.slug}?spoilt=1`);
    expect((await contactOf(email))!.consentAt).toBeNull();
  });
});

describe("an opt-in form", () => {
  const fields: BlockOf<"form">["fields"] = [
    { id: "l", is: "lastName", label: "Family name", required: true, kind: "text", choices: [] },
    { id: "p", is: "phone", label: "Telephone", required: false, kind: "text", choices: [] },
    { id: "q", is: "own", label: "Which needles?", required: true, kind: "choice", choices: ["Wood", "Steel"] },
  ];
  it("asks what it was told to ask, says at each field what is wrong, and keeps the answers", async () => {
    const context = await launchWith({ double: "never", fields });
    const wrong = await send(context, "ada@", { phone: "call me", own_q: "Bone" });
    expect(wrong.status).toBe(422);
    for (const name of ["email", "lastName", "phone", "own_q"]) expect(wrong.body).toContain(`id="${name}-wrong"`);
    expect(wrong.body).toContain('value="call me"');
    const email = address();
    await send(context, email, { lastName: "Byron", phone: "+351 912 345 678", own_q: "Steel" });
    expect(await contactOf(email)).toMatchObject({ lastName: "Byron", phone: "+351 912 345 678", answers: { "Which needles?": "Steel" } });
  });
  it("leads on where it says, and gives what it promised on the page and in the email", async () => {
    const gift = await storeMedia(world.app.files, em(), null, "chart.pdf", await world.app.files.take(Buffer.from("%PDF-1.4 a chart")), now());
    const context = await launchWith({ double: "never", gift: gift.id });
    const email = address();
    const { headers } = await send(context, email);
    const page = await answerPage(world.app, { slug: context.launch.slug, path: "", query: new URLSearchParams(headers["location"]!.split("?")[1]) });
    expect(page.body).toContain(`href="/media/${gift.hash}-file.pdf" download="chart.pdf"`);
    await withWorker(world, () => until(async () => (await world.inbox(email)).find(({ text }) => text.includes(`/media/${gift.hash}-file.pdf`))));
    const away = await launchWith({ double: "never", then: { to: "outside", url: "https://friend.example/offer?x=1" } });
    expect((await send(away, address())).headers["location"]).toBe("https://friend.example/offer?x=1");
  });
  it("shows the vendor's own words of consent, and keeps them with the consent", async () => {
    const context = await launchWith({ double: "never", consent: "Yes, write to me of ganseys." });
    const page = await answerPage(world.app, { slug: context.launch.slug, path: "", query: new URLSearchParams() });
    expect(page.body).toContain("Yes, write to me of ganseys.");
    const email = address();
    await send(context, email);
    expect((await contactOf(email))!.consentText).toBe("Yes, write to me of ganseys.");
    expect(firstBlock(context.pages.find(({ key }) => key === "optin")!.published!, "form")!.consent).toBe("Yes, write to me of ganseys.");
  });
});

describe("publishing while people are on the page", () => {
  it("breaks no checkout under way: what was begun on the old page is paid on the new one", async () => {
    const context = await openLaunch(world, { offer: false });
    const who = { visitorId: randomUUID(), from: "9.9.9.8" };
    const ada = buyer();
    const start = { action: "start", values: { ...ada, country: "PT" }, visitorId: who.visitorId, from: who.from, slug: context.launch.slug };
    expect((await submitForm(world.app, start)).headers["location"]).toContain("/checkout");
    const page = await em().findOneOrFail(Page, { launchId: context.launch.id, key: "checkout" });
    await saveDraft(
      em(),
      world.owner,
      page.id,
      pageOf([b.section([b.title("New till"), b.made("checkout", { pay: "Order and pay" })])]),
      page.version,
      now(),
    );
    await publishPage(em(), world.owner, page.id, "V", now());
    const get = () => answerPage(world.app, { slug: context.launch.slug, path: "checkout", query: new URLSearchParams(), visitorId: who.visitorId });
    await until(async () => (await get()).body.includes("Order and pay · €149.00"));
    expect((await buy(world, context, who, ada)).charge.state).toBe("succeeded");
  });
});

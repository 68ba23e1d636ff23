import { randomUUID } from "node:crypto";
import { launchesOf } from "../../src/server/launch/launchCache";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { storedCard } from "../../src/core/offers";
import { sessionSubject, signIn } from "../../src/server/platform/access/session";
import { signLink } from "../../src/server/platform/access/signedLink";
import { loadLaunch, type LaunchContext } from "../../src/server/launch/launchContext";
import { chooseAtCheckout, startCheckout } from "../../src/server/checkout/checkout";
import { nextAddress } from "../../src/server/checkout/offerPath";
import { payCheckout } from "../../src/server/checkout/paying";
import { takeDuePayment } from "../../src/server/payments/takePayment";
import { answerPage } from "../../src/server/site/answer";
import { askForLibraryLink, buyerOf, endOwnRecurringPayment, libraryOf, openLibrary, setBuyerPassword } from "../../src/server/delivery/buyers";
import { personOf } from "../../src/server/identity/identity";
import { grantAccess } from "../../src/server/delivery";
import { RecurringPayment, Charge, Contact, EmailMessage, Order, Product } from "../../src/store/tables";
import { advance, buy, buyer, cardToken, look, openLaunch, sendEmail, startWorld, visitor, type World } from "../support/world";

let world: World;
let context: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  context = await openLaunch(world, { offer: false });
});
afterAll(() => world.stop());
const em = () => world.app.fork();
const now = () => world.app.clock.now();

const bought = async (of = context) => {
  const { order, person, who } = await buy(world, of);
  return { order: order!, person, who, contact: await em().findOneOrFail(Contact, { email: person.email, test: false }) };
};
/** A launch that sells a subscription. */
const openClub = async (): Promise<LaunchContext> => {
  const made = await openLaunch(world, { offer: false });
  const terms = { kind: "subscription" as const, every: { unit: "month" as const, n: 1 }, trialDays: 0, setup: 0, times: null };
  await em().nativeUpdate(Product, { id: made.product.id }, { terms });
  launchesOf(world.app).clear();
  return (await loadLaunch(em(), { id: made.launch.id }))!;
};
const linkOf = (contact: Contact, days = 1) => signLink(world.app.config.INKBELL_SECRET, "library", contact.id, now(), days);
const enter = (contact: Contact, visitorId?: string) => openLibrary(world.app, linkOf(contact), visitorId);
const askedFor = (contact: Contact) => em().find(EmailMessage, { contactId: contact.id, kind: "library" });

describe("a link into the library", () => {
  it("goes to an address that bought something, once a minute, and to no other", async () => {
    const { contact, person } = await bought();
    for (const typed of [person.email, `  ${person.email.toUpperCase()} `]) await askForLibraryLink(world.app, em(), typed, "a");
    const [email, ...more] = await askedFor(contact);
    expect(more).toEqual([]);
    await sendEmail(world, email!.id);
    const [mail] = (await world.inbox(person.email)).filter(({ subject }: { subject: string }) => subject === "The link to your library");
    const href = /http\S+\/library\/open\?t=(\S+)/.exec((mail as unknown as { text: string }).text)!;
    expect((await buyerOf(em(), await openLibrary(world.app, href[1]!, undefined), now()))!.id).toBe(contact.id);

    const before = await em().count(EmailMessage, { kind: "library" });
    await askForLibraryLink(world.app, em(), "nobody@wool.example", "a");
    expect(await em().count(EmailMessage, { kind: "library" })).toBe(before);
  });
  it("goes to whoever was given access without an order as well", async () => {
    const { contact, order } = await bought();
    await em().execute("update sale_order set test = true where id = ?", [order.id]);
    await askForLibraryLink(world.app, em(), contact.email, "given");
    expect(await askedFor(contact)).toEqual([]);
    const gift = { act: randomUUID(), product: context.product.id, until: null, reason: "Bought in the old shop" };
    await grantAccess(em(), world.owner, contact.personId, gift, now());
    await askForLibraryLink(world.app, em(), contact.email, "given");
    expect(await askedFor(contact)).toMatchObject([{ launchId: context.launch.id }]);
  });
  it("is refused where it is forged, over, or was made for something else", async () => {
    const { contact, order } = await bought();
    const order90 = signLink(world.app.config.INKBELL_SECRET, "order", order.id, now(), 90);
    const old = linkOf(contact);
    for (const token of [null, "x", order90, `${old.slice(0, -4)}aaaa`])
      await expect(openLibrary(world.app, token, undefined)).rejects.toMatchObject({ code: "link_over" });
    await advance(world, 25 * 60);
    await expect(openLibrary(world.app, old, undefined)).rejects.toMatchObject({ code: "link_over" });
  });
  it("makes the browser that opens it the buyer's own", async () => {
    const { contact } = await bought();
    const other = visitor().visitorId;
    await enter(contact, other);
    expect(await personOf(em(), other, now())).toBe(contact.personId);
  });
});

describe("a buyer's password", () => {
  it("lets in whoever knows it, and nobody where none is set; setting one ends the other sessions", async () => {
    const { contact, person } = await bought();
    const attempt = (password: string) => signIn(world.app, em(), "buyer", person.email, password, "b");
    for (const guess of ["", "-", "a long enough guess"]) await expect(attempt(guess)).rejects.toMatchObject({ code: "wrong_login" });
    const [one, two] = [await enter(contact), await enter(contact)];
    const me = (await buyerOf(em(), one, now()))!;
    await expect(setBuyerPassword(world.app, em(), me, "short")).rejects.toMatchObject({ faults: { password: { code: "too_short", least: 10 } } });
    const kept = await setBuyerPassword(world.app, em(), me, "moss stitch and cable");
    expect(await buyerOf(em(), two, now())).toBeUndefined();
    expect((await buyerOf(em(), kept, now()))!.id).toBe(contact.id);
    expect((await buyerOf(em(), await attempt("moss stitch and cable"), now()))!.id).toBe(contact.id);
    await expect(attempt("moss stitch and cables")).rejects.toMatchObject({ code: "wrong_login" });
    // A session of one surface opens no other.
    expect(await sessionSubject(em(), "desk", kept, now())).toBeUndefined();
    expect(await sessionSubject(em(), "partner", kept, now())).toBeUndefined();
  });
});

describe("a library", () => {
  it("holds what its buyer bought, and nobody else's orders", async () => {
    const { contact, person, who, order } = await bought();
    await buy(world, context);
    const again = await buy(world, context, who, person);
    const orders = await libraryOf(world.app, em(), contact);
    expect(orders.map(({ number }) => number)).toEqual([again.order!.number, order.number]);
    expect(orders[0]).toMatchObject({ total: "€149.00", lines: [{ name: "The Workshop", gross: "€149.00" }], recurring: [] });
    expect(orders[0]!.href).toContain(`/l/${context.launch.slug}/`);
  });
  it("ends a subscription of its buyer's, and of nobody else's", async () => {
    const club = await openClub();
    const [mine, theirs] = [await bought(club), await bought(club)];
    const recurring = (await libraryOf(world.app, em(), mine.contact))[0]!.recurring;
    expect(recurring).toMatchObject([{ ends: true, words: expect.stringContaining("€149.00 every month") as string }]);
    await expect(endOwnRecurringPayment(world.app, em(), theirs.contact, recurring[0]!.id)).rejects.toMatchObject({ status: 404 });
    expect(await em().findOneOrFail(RecurringPayment, { id: recurring[0]!.id })).toMatchObject({ state: "active" });
    await endOwnRecurringPayment(world.app, em(), mine.contact, recurring[0]!.id);
    expect(await em().findOneOrFail(RecurringPayment, { id: recurring[0]!.id })).toMatchObject({ state: "ended", endedBecause: "by_buyer" });
  });
});

describe("a buyer who is signed in at a checkout in another browser", () => {
  const checkoutOf = (visitorId: string, buyerToken?: string) =>
    answerPage(world.app, { slug: context.launch.slug, path: "checkout", query: new URLSearchParams(), visitorId, buyerToken });
  it("finds their address there, and pays with the card they paid with before", async () => {
    const { contact, person } = await bought();
    const { visitorId, from } = visitor();
    const token = await enter(contact);
    const page = (await checkoutOf(visitorId, token)).body;
    expect(page).toContain(`Signed in as ${person.email}`);
    expect(page).toContain(`value="${person.email}"`);
    const { id } = await startCheckout(world.app, em(), context, person, { visitorId, from });
    expect((await checkoutOf(visitorId, token)).body).toContain("with the card ending in 0003");
    const pay = (buyerId?: string) =>
      payCheckout(world.app, em(), context, { ...person, checkout: id, cardToken: storedCard, waiver: "yes" }, { visitorId, buyerId, from });
    // Whoever only types their address has not got their card.
    await expect(pay()).rejects.toMatchObject({ faults: { cardToken: { code: "card_missing" } } });
    expect((await pay(contact.id)).state).toBe("succeeded");
  });
  it("is nobody with a token that is not theirs, or with none", async () => {
    for (const token of [undefined, "x".repeat(43)]) {
      const page = (await checkoutOf(visitor().visitorId, token)).body;
      expect(page).toContain("Bought here before?");
      expect(page).not.toContain("Signed in as");
    }
  });
});

describe("what a library says of later payments", () => {
  it("is what the next one takes, in all that was ordered of it, as on the receipt", async () => {
    const club = await openClub();
    const [who, person] = [visitor(), buyer()];
    const { id } = await startCheckout(world.app, em(), club, person, who);
    await chooseAtCheckout(world.app, em(), club, { checkout: id, quantity: 3 }, who);
    await payCheckout(world.app, em(), club, { ...person, checkout: id, cardToken: await cardToken(world), waiver: "yes" }, who);
    const order = await em().findOneOrFail(Order, { checkoutId: id });
    const contact = await em().findOneOrFail(Contact, { id: order.contactId });
    const [said] = (await libraryOf(world.app, em(), contact))[0]!.recurring;
    expect(said!.words).toContain("€447.00 every month");

    const o = signLink(world.app.config.INKBELL_SECRET, "order", order.id, now(), 1);
    expect((await look(world, club, await nextAddress(em(), club, order), who.visitorId, { o })).body).toContain(said!.words);

    const recurringPayment = await em().findOneOrFail(RecurringPayment, { orderId: order.id });
    await advance(world, Math.ceil((recurringPayment.nextAt.getTime() - now().getTime()) / 60_000));
    await takeDuePayment(world.app, recurringPayment.id);
    const [, second] = await em().find(Charge, { checkoutId: id }, { orderBy: { createdAt: 1 } });
    expect(second).toMatchObject({ recurringPaymentId: recurringPayment.id, state: "succeeded", amountMinor: 44_700 });
  });
});

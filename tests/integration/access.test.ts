import fc from "fast-check";
import { randomUUID } from "node:crypto";
import { Webhook } from "standardwebhooks";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { ownedProducts } from "../../src/core/delivery";
import { chooseAtCheckout, payCheckout, startCheckout } from "../../src/server/checkout";
import { enterByHand } from "../../src/server/checkout/handOrders";
import { accessOfPerson, grantAccess, ownedBy, revokeAccess } from "../../src/server/delivery";
import { loadLaunch } from "../../src/server/launch";
import { launchesOf } from "../../src/server/launch/launchCache";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { applyCardNotice } from "../../src/server/payments/notices";
import { endRecurringPayment } from "../../src/server/payments/recurringPayments";
import { refundOrder } from "../../src/server/payments/refunds";
import { takeDuePayment } from "../../src/server/payments/takePayment";
import { erasePerson, mergePeople } from "../../src/server/people";
import { receiveNotice } from "../../src/server/platform/http/notices";
import { accessSources } from "../../src/store/delivery/accessSources";
import { AccessGrant, type Charge, Contact, Order, Product, RecurringPayment, Refund } from "../../src/store/tables";
import { advance, buy, buyer, cards, cardToken, openLaunch, someone, startWorld, visitor, type World } from "../support/world";

let world: World;
let context: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());
beforeEach(async () => {
  context = await openLaunch(world, { offer: false });
});
const em = () => world.app.fork();
const now = () => world.app.clock.now();
const owned = async (contactId: string, at = now()) => ownedBy(em(), contactId, at);
const status = async (contactId: string, at = now()) => (await owned(contactId, at)).map(({ open, because }) => (open ? "open" : because));

const back = (orderId: string, amount: string) =>
  refundOrder(world.app, em(), world.owner, orderId, { act: randomUUID(), lines: {}, amount, reason: "Changed their mind" });
const tell = async (type: string, charge: Charge, status: string, amount: number, id = charge.id) => {
  const data = { id: `dp_${id}`, charge: charge.processorId, status, amount, currency: "EUR", fee: 1_500, reason: "not_recognised" };
  const body = JSON.stringify({ type, data });
  const [notice, at] = [`msg_${randomUUID()}`, new Date()];
  const secret = world.settings["CARD_DESK_NOTICE_SECRET"]!;
  const signature = new Webhook(secret).sign(notice, at, body);
  const headers = { "webhook-id": notice, "webhook-timestamp": `${Math.floor(at.getTime() / 1000)}`, "webhook-signature": signature };
  await receiveNotice(world.app, "card-desk", secret, new Headers(headers), body, applyCardNotice);
};

describe("what was bought", () => {
  it("is open from its payment on, closes with the last cent that goes back, and says why", async () => {
    const before = now();
    await advance(world, 1);
    const { order } = await buy(world, context);
    expect(await owned(order!.contactId, before)).toEqual([]);
    expect(await owned(order!.contactId)).toMatchObject([
      {
        id: context.product.id,
        product: context.product.name,
        open: true,
        until: null,
        whilePaid: false,
        via: { kind: "order", number: order!.number },
      },
    ]);
    await back(order!.id, "100.00");
    expect(await status(order!.contactId)).toEqual(["open"]);
    await advance(world, 1);
    const between = now();
    await advance(world, 1);
    await back(order!.id, "49.00");
    expect(await status(order!.contactId)).toEqual(["refunded"]);
    expect(await status(order!.contactId, between)).toEqual(["open"]);
    expect((await owned(order!.contactId))[0]!.log.map(({ open, because }) => [open, because])).toEqual([
      [true, null],
      [false, "refunded"],
    ]);
  });
  it("closes with a dispute and opens again when that is won, and the ledger agrees at every step", async () => {
    const { order, charge } = await buy(world, context);
    /** What of the sale is still the vendor's by the books: what was earned and is owed as tax, less what went back. */
    const kept = async () => {
      const [row] = await em().execute<{ kept: string }[]>(
        `select -coalesce(sum(x.minor), 0) as kept from journal j join posting x on x.journal_id = j.id
         where j.order_id = ? and x.account in ('sales', 'tax_payable', 'refunds', 'disputes')`,
        [order!.id],
      );
      return Number(row!.kept);
    };
    const agree = async () => expect((await status(order!.contactId))[0] === "open").toBe((await kept()) > 0);
    for (const step of [
      () => back(order!.id, "50.00"),
      () => tell("dispute.opened", charge, "open", 9_900),
      () => tell("dispute.closed", charge, "won", 9_900),
      () => back(order!.id, "99.00"),
    ]) {
      await step();
      await agree();
      await advance(world, 1);
    }
    expect((await owned(order!.contactId))[0]!.log.map(({ open, because }) => because ?? open)).toEqual([true, "disputed", true, "refunded"]);
  });
  it("in any order of refunds and disputes is open exactly while the books still hold a part of it", async () => {
    const act = fc.record({ kind: fc.constantFrom("refund", "dispute", "win", "lose"), part: fc.integer({ min: 1, max: 14_900 }) });
    await fc.assert(
      fc.asyncProperty(fc.array(act, { minLength: 1, maxLength: 5 }), async (acts) => {
        const { order, charge } = await buy(world, context);
        let nth = 0;
        for (const { kind, part } of acts) {
          // What is refused, such as more than is left, changes nothing: neither here nor there.
          if (kind === "refund") await back(order!.id, (part / 100).toFixed(2)).catch(() => undefined);
          else if (kind === "dispute") await tell("dispute.opened", charge, "open", part, `${charge.id}-${++nth}`);
          else await tell("dispute.closed", charge, kind === "win" ? "won" : "lost", part, `${charge.id}-${nth}`);
          await advance(world, 1);
          const [row] = await em().execute<{ kept: string }[]>(
            `select -sum(x.minor) as kept from journal j join posting x on x.journal_id = j.id
             where j.order_id = ? and x.account in ('sales', 'tax_payable', 'refunds', 'disputes')`,
            [order!.id],
          );
          expect((await status(order!.contactId))[0] === "open").toBe(Number(row!.kept) > 0);
        }
      }),
      { numRuns: 12 },
    );
  });
  it("by hand, for nothing, and held on a card until it is sent is open all the same, and says so", async () => {
    const person = buyer();
    const request = {
      act: randomUUID(),
      launch: context.launch.slug,
      product: context.product.id,
      quantity: 1,
      amount: "149.00",
      how: "Bank transfer",
    };
    const { id } = await enterByHand(world.app, em(), world.owner, { ...request, ...person, receipt: false });
    expect(await status((await em().findOneOrFail(Order, { id })).contactId)).toEqual(["open"]);

    await em().nativeUpdate(Product, { id: context.product.id }, { kind: "shipped", chargeWhen: "when_sent" });
    launchesOf(world.app).clear();
    const { order } = await buy(world, (await loadLaunch(em(), { id: context.launch.id }))!);
    expect(await owned(order!.contactId)).toMatchObject([{ open: true, via: { kind: "order", authorized: true } }]);
    await back(order!.id, "149.00");
    expect(await em().findOneOrFail(Refund, { orderId: order!.id })).toMatchObject({ state: "succeeded" });
    expect(await status(order!.contactId)).toEqual(["refunded"]);
  });
  it("as a bundle opens what it held when it was sold", async () => {
    const [charts, later] = [randomUUID(), randomUUID()];
    for (const [id, name] of [
      [charts, "Charts"],
      [later, "Later"],
    ] as const)
      await em().execute(
        `insert into product (id, name, private_label, tax_class, refund_days, description, price_minor, currency, tax_mode, kind, terms)
         select ?, ?, '', tax_class, refund_days, '', price_minor, currency, tax_mode, 'download', terms from product where id = ?`,
        [id, name, context.product.id],
      );
    const hold = async (...contents: string[]) => {
      await em().nativeUpdate(Product, { id: context.product.id }, { kind: "bundle", contents });
      launchesOf(world.app).clear();
    };
    await hold(charts);
    const { order } = await buy(world, (await loadLaunch(em(), { id: context.launch.id }))!);
    await hold(later);
    const names = (await owned(order!.contactId)).map(({ product, open }) => [product, open]);
    expect(names.sort()).toEqual([
      ["Charts", true],
      [context.product.name, true],
    ]);
  });
});

describe("what is paid in parts, or as long as it lasts", () => {
  const sold = async (terms: Product["terms"], card = cards.good) => {
    await em().nativeUpdate(Product, { id: context.product.id }, { terms, priceMinor: 1_200 });
    launchesOf(world.app).clear();
    const of = (await launchesOf(world.app).bySlug(context.launch.slug))!;
    const [who, person] = [visitor(), buyer()];
    const { id } = await startCheckout(world.app, em(), of, person, who);
    await chooseAtCheckout(world.app, em(), of, { checkout: id }, who);
    await payCheckout(
      world.app,
      em(),
      of,
      { ...person, checkout: id, cardToken: await cardToken(world, card), waiver: "yes", shown: undefined },
      who,
    );
    const order = await em().findOneOrFail(Order, { checkoutId: id });
    return { order, recurring: await em().findOneOrFail(RecurringPayment, { orderId: order.id }) };
  };
  const month = { unit: "month" as const, n: 1 };
  /** The worker's next attempt, on its day. */
  const next = async (id: string) => {
    await world.app.clock.setTo(em(), new Date((await em().findOneOrFail(RecurringPayment, { id })).nextAt.getTime() + 1));
    await takeDuePayment(world.app, id);
  };
  const days = (from: Date, n: number) => new Date(from.getTime() + n * 86_400_000);
  it("is open as long as a subscription is paid, and until what was paid is used up", async () => {
    const begun = now();
    const { order, recurring } = await sold({ kind: "subscription", every: month, trialDays: 0, setup: 0, times: null });
    expect(recurring.kind).toBe("subscription");
    expect(await owned(order.contactId)).toMatchObject([{ open: true, whilePaid: true }]);
    await next(recurring.id);
    const paidUntil = (await em().findOneOrFail(RecurringPayment, { id: recurring.id })).nextAt;
    await endRecurringPayment(em(), recurring.id, "by_buyer", now());
    expect(await owned(order.contactId)).toMatchObject([{ open: true, whilePaid: false, until: paidUntil }]);
    expect(await status(order.contactId, paidUntil)).toEqual(["cancelled"]);
    await world.app.clock.setTo(em(), begun);
  });
  it("is open through the grace time of a card that is refused, and then is not", async () => {
    const begun = now();
    const { order, recurring } = await sold({ kind: "subscription", every: month, trialDays: 0, setup: 0, times: null }, "9990000000000078");
    for (let n = 0; n < 4; n += 1) await next(recurring.id);
    expect(await em().findOneOrFail(RecurringPayment, { id: recurring.id })).toMatchObject({ endedBecause: "card_refused" });
    expect(await status(order.contactId, days(recurring.firstAt, 13))).toEqual(["open"]);
    expect(await status(order.contactId, days(recurring.firstAt, 14))).toEqual(["unpaid"]);
    await world.app.clock.setTo(em(), begun);
  });
  it("is open for good once all instalments are paid", async () => {
    const begun = now();
    const { order, recurring } = await sold({ kind: "instalments", parts: 3, every: month });
    expect(recurring.kind).toBe("instalments");
    await next(recurring.id);
    expect(await status(order.contactId, days(now(), 90))).toEqual(["unpaid"]);
    await next(recurring.id);
    expect(await owned(order.contactId, days(now(), 900))).toMatchObject([{ open: true, until: null, whilePaid: false }]);
    await world.app.clock.setTo(em(), begun);
  });
});

describe("access without an order", () => {
  const someBuyer = async () => {
    const { order } = await buy(world, context);
    await back(order!.id, "149.00");
    const { id, personId, email } = await em().findOneOrFail(Contact, { id: order!.contactId });
    return { id, personId, email };
  };
  const gift = (change: { until?: Date; product?: string } = {}) => ({
    act: randomUUID(),
    product: context.product.id,
    until: null,
    reason: "Her order went to another shop",
    ...change,
  });

  it("is given once however often it is pressed, until a moment or for good, and is taken back for a reason", async () => {
    const { id, personId } = await someBuyer();
    await advance(world, 1);
    const request = gift({ until: new Date(now().getTime() + 86_400_000) });
    await Promise.all(Array.from({ length: 4 }, () => grantAccess(em(), world.owner, personId, request, now())));
    expect(await em().count(AccessGrant, { contactId: id })).toBe(1);
    expect(await owned(id)).toMatchObject([{ open: true, until: request.until, via: { kind: "grant", reason: request.reason } }]);
    expect(await status(id, request.until!)).toEqual(["grant_over"]);
    await advance(world, 1);
    const at = now();
    await revokeAccess(em(), world.owner, { personId, grant: request.act, reason: "It came after all" }, at);
    await advance(world, 1);
    await revokeAccess(em(), world.owner, { personId, grant: request.act, reason: "Pressed again" }, now());
    expect(await em().findOneOrFail(AccessGrant, { id: request.act })).toMatchObject({ revokedAt: at, revokedBecause: "It came after all" });
    expect(await status(id)).toEqual(["grant_revoked"]);
  });
  it("needs somebody who may, a time to come, a product there is, and the person whose it is", async () => {
    const [one, other] = [await someBuyer(), await someBuyer()];
    await expect(grantAccess(em(), someone("viewer"), one.personId, gift(), now())).rejects.toMatchObject({ code: "not_allowed" });
    await expect(grantAccess(em(), world.owner, one.personId, gift({ until: now() }), now())).rejects.toMatchObject({
      faults: { until: { code: "access_until_past" } },
    });
    await expect(grantAccess(em(), world.owner, one.personId, gift({ product: randomUUID() }), now())).rejects.toMatchObject({ code: "not_found" });
    const given = gift();
    await grantAccess(em(), world.owner, one.personId, given, now());
    const revoke = (personId: string, user = world.owner) => revokeAccess(em(), user, { personId, grant: given.act, reason: "Why not" }, now());
    await expect(revoke(other.personId)).rejects.toMatchObject({ code: "not_found" });
    await expect(revoke(one.personId, someone("viewer"))).rejects.toMatchObject({ code: "not_allowed" });
    expect((await accessOfPerson(em(), one.personId, now())).owned).toMatchObject([{ open: true }]);
    expect((await accessOfPerson(em(), randomUUID(), now())).owned).toEqual([]);
  });
  it("goes along when two records are merged, and goes when somebody is erased", async () => {
    const [one, other] = [await someBuyer(), await someBuyer()];
    await grantAccess(em(), world.owner, other.personId, gift(), now());
    const { id: kept } = await mergePeople(em(), world.owner, one.personId, other.personId, now());
    const contact = await em().findOneOrFail(Contact, { personId: kept, mergedInto: null, erasedAt: null });
    expect(await status(contact.id)).toEqual(["open"]);
    await erasePerson(world.app, em(), world.owner, kept, now());
    expect(await em().count(AccessGrant, { contactId: contact.id })).toBe(0);
  });
  it("of two contacts is read together where both are one buyer's", async () => {
    const [one, other] = [await someBuyer(), await someBuyer()];
    await grantAccess(em(), world.owner, other.personId, gift(), now());
    const { sources, names } = await accessSources(em(), [one.id, other.id]);
    expect(ownedProducts(sources, names, now())).toMatchObject([{ open: true, via: { kind: "grant" } }]);
  });
});

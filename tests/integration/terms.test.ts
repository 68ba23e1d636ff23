import { launchesOf } from "../../src/server/launch/launchCache";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { once, type PriceTerms } from "../../src/core/offers";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { chooseAtCheckout, startCheckout } from "../../src/server/checkout/checkout";
import { payCheckout } from "../../src/server/checkout/paying";
import { makeCoupon } from "../../src/server/products/coupons";
import { RecurringPayment, Charge, Order, OrderLine, Product } from "../../src/store/tables";
import { takeDuePayment } from "../../src/server/payments/takePayment";
import { endRecurringPayment } from "../../src/server/payments/recurringPayments";
import { advance, buy, buyer, cards, cardToken, deskCharges, openLaunch, startWorld, visitor, withWorker, until, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());
const em = () => world.app.fork();

/** A launch whose main product is paid by these terms. */
const launchWith = async (terms: PriceTerms, change: Partial<Product> = {}): Promise<LaunchContext> => {
  const context = await openLaunch(world, { offer: false });
  await em().nativeUpdate(Product, { id: context.product.id }, { terms, ...change });
  launchesOf(world.app).clear();
  return (await launchesOf(world.app).bySlug(context.launch.slug))!;
};
const begin = async (context: LaunchContext, country = "PT") => {
  const [who, person] = [visitor(), buyer(country)];
  const { id } = await startCheckout(world.app, em(), context, person, who);
  return {
    id,
    who,
    person,
    choose: (choice: { quantity?: number; named?: string; currency?: string }) =>
      chooseAtCheckout(world.app, em(), context, { checkout: id, ...choice }, who),
    pay: async (card = cards.good, shown?: number, token?: string) =>
      payCheckout(
        world.app,
        em(),
        context,
        { ...person, checkout: id, cardToken: token ?? (await cardToken(world, card)), waiver: "yes" as const, shown },
        who,
      ),
  };
};
const orderOf = async (checkout: string) => em().findOneOrFail(Order, { checkoutId: checkout });
const linesOf = async (checkout: string) => em().find(OrderLine, { orderId: (await orderOf(checkout)).id }, { orderBy: { role: 1 } });
const recurringPaymentOf = async (checkout: string) => em().findOneOrFail(RecurringPayment, { orderId: (await orderOf(checkout)).id });
const balanced = async () => {
  const rows = await em().execute<{ n: string }[]>(
    "select count(*) as n from (select journal_id from posting group by journal_id, currency having sum(minor) <> 0) as off",
  );
  expect(Number(rows[0]!.n)).toBe(0);
};

describe("a price that the buyer names", () => {
  it("is charged as named, and not below the least", async () => {
    const context = await launchWith({ kind: "open", floor: 500 }, { priceMinor: 2_000 });
    const checkout = await begin(context);
    await expect(checkout.choose({ named: "4.99" })).rejects.toMatchObject({
      faults: { named: { code: "least_amount", minor: 500, currency: "EUR" } },
    });
    await expect(checkout.choose({ named: "a lot" })).rejects.toMatchObject({ faults: { named: { code: "amount" } } });
    await checkout.choose({ named: "31.50" });
    const charge = await checkout.pay();
    expect(charge).toMatchObject({ state: "succeeded", amountMinor: 3_150 });
  });
  it("of nothing asks for no card, and is an order all the same", async () => {
    const context = await launchWith({ kind: "open", floor: 0 }, { priceMinor: 1_000 });
    const checkout = await begin(context);
    await checkout.choose({ named: "0" });
    const before = (await deskCharges(world)).length;
    const charge = await checkout.pay(cards.good, undefined, "none");
    expect(charge).toMatchObject({ state: "succeeded", amountMinor: 0 });
    expect((await deskCharges(world)).length).toBe(before);
    expect(await linesOf(checkout.id)).toMatchObject([{ grossMinor: 0, taxMinor: 0, feeMinor: 0 }]);
    expect((await orderOf(checkout.id)).cardRef).toBeNull();
  });
  it("is not taken without a card where something is to be paid", async () => {
    const context = await launchWith({ kind: "open", floor: 0 }, { priceMinor: 1_000 });
    const checkout = await begin(context);
    await expect(checkout.pay(cards.good, undefined, "none")).rejects.toMatchObject({ faults: { cardToken: { code: "card_missing" } } });
    expect(await em().count(Charge, { checkoutId: checkout.id })).toBe(0);
  });
});

describe("a price by quantity", () => {
  it("takes the step that is reached for all pieces, and counts the pieces", async () => {
    const context = await launchWith({ kind: "tiers", tiers: [{ from: 5, minor: 1_500 }] }, { priceMinor: 2_000, seats: 8 });
    const [one, two] = [await begin(context), await begin(context)];
    await one.choose({ quantity: 5 });
    expect(await one.pay()).toMatchObject({ state: "succeeded", amountMinor: 7_500 });
    expect(await linesOf(one.id)).toMatchObject([{ quantity: 5, name: "5 × The Workshop" }]);
    await two.choose({ quantity: 4 });
    await expect(two.pay()).rejects.toMatchObject({ code: "seats_taken" });
    await two.choose({ quantity: 3 });
    expect(await two.pay()).toMatchObject({ state: "succeeded", amountMinor: 6_000 });
  });
});

describe("free plus shipping", () => {
  it("charges the sending in a line of its own, with its own class of tax and no commission", async () => {
    const context = await launchWith({ kind: "shipped", shipping: 495 }, { priceMinor: 0 });
    const charged = async () => {
      const checkout = await begin(context);
      expect(await checkout.pay()).toMatchObject({ state: "succeeded", amountMinor: 495 });
      return linesOf(checkout.id);
    };
    // Where the table says nothing of sending, the standard rate holds: 23 %.
    expect(await charged()).toMatchObject([
      { role: "front", grossMinor: 0 },
      { role: "shipping", grossMinor: 495, taxMinor: 93, name: "Shipping, The Workshop" },
    ]);
    await em().execute("insert into tax_rate (country, tax_class, rate_bp, from_day) values ('PT', 'shipping', 600, '2020-01-01')");
    expect(await charged()).toMatchObject([{ role: "front" }, { role: "shipping", grossMinor: 495, taxMinor: 28, rateBp: 600 }]);
    await em().execute("delete from tax_rate where tax_class = 'shipping'");
  });
  it("that is free in another currency too is sold there for what sending it costs there, and not without", async () => {
    const context = await launchWith({ kind: "shipped", shipping: 495, elsewhere: { USD: 650 } }, { priceMinor: 0, prices: { USD: 0, GBP: 0 } });
    const checkout = await begin(context);
    await checkout.choose({ currency: "USD" });
    expect(await checkout.pay()).toMatchObject({ state: "succeeded", amountMinor: 650, currency: "USD" });
    await expect((await begin(context)).choose({ currency: "GBP" })).rejects.toMatchObject({ faults: { currency: { code: "not_in_currency" } } });
  });
});

describe("instalments", () => {
  it("charge the remainder with the first part, the others each on its day, and then no more", async () => {
    const context = await launchWith({ kind: "instalments", parts: 3, every: { unit: "month", n: 1 } }, { priceMinor: 10_000 });
    const checkout = await begin(context);
    expect(await checkout.pay()).toMatchObject({ amountMinor: 3_334 });
    const { id, minor, paymentsLeft, nextAt, firstAt } = await recurringPaymentOf(checkout.id);
    expect({ minor, paymentsLeft }).toEqual({ minor: 3_333, paymentsLeft: 2 });
    expect(nextAt).toEqual(firstAt);
    const start = world.app.clock.now();
    // Before its day nothing is taken, however often it is asked.
    await takeDuePayment(world.app, id);
    expect(await em().count(Charge, { recurringPaymentId: id })).toBe(0);
    await withWorker(world, async () => {
      for (const paid of [1, 2]) {
        await world.app.clock.setTo(em(), new Date((await recurringPaymentOf(checkout.id)).nextAt.getTime() + 1_000));
        await until(async () => (await recurringPaymentOf(checkout.id)).paid === paid, 20);
      }
    });
    await Promise.all([takeDuePayment(world.app, id), takeDuePayment(world.app, id)]);
    const lines = await linesOf(checkout.id);
    expect(lines.map(({ role, grossMinor }) => [role, grossMinor])).toEqual([
      ["front", 3_334],
      ["rebill", 3_333],
      ["rebill", 3_333],
    ]);
    expect(lines.reduce((sum, { grossMinor }) => sum + grossMinor, 0)).toBe(10_000);
    expect(await recurringPaymentOf(checkout.id)).toMatchObject({ state: "done", paymentsLeft: 0 });
    await balanced();
    await world.app.clock.setTo(em(), start);
  });
  it("take a coupon off the whole price, and every part is smaller", async () => {
    const context = await launchWith({ kind: "instalments", parts: 4, every: { unit: "week", n: 2 } }, { priceMinor: 10_000 });
    const off = { kind: "percent" as const, percent: "50" };
    const request = { label: "Half", off, products: null, partner: null, from: "", until: "", zone: "Europe/Lisbon", oncePerPerson: false };
    await makeCoupon(em(), world.owner, { ...request, codes: { kind: "shared", code: "HALF-OF-ALL", uses: null } }, world.app.clock.now());
    const checkout = await begin(context);
    await em().execute("update checkout set coupon = 'HALF-OF-ALL' where id = ?", [checkout.id]);
    expect(await checkout.pay()).toMatchObject({ amountMinor: 1_250 });
    expect(await recurringPaymentOf(checkout.id)).toMatchObject({ minor: 1_250, paymentsLeft: 3 });
    expect(await linesOf(checkout.id)).toMatchObject([{ discountMinor: 5_000 }]);
  });
});

describe("a coupon that covers the whole price", () => {
  it("leaves nothing to pay and nothing for later: no card, no recurring payment, no line of nothing", async () => {
    const context = await launchWith({ kind: "instalments", parts: 3, every: { unit: "month", n: 1 } }, { priceMinor: 10_000 });
    const off = { kind: "percent" as const, percent: "100" };
    const request = { label: "All", off, products: null, partner: null, from: "", until: "", zone: "Europe/Lisbon", oncePerPerson: false };
    await makeCoupon(em(), world.owner, { ...request, codes: { kind: "shared", code: "ALL-OF-IT", uses: null } }, world.app.clock.now());
    const checkout = await begin(context);
    await em().execute("update checkout set coupon = 'ALL-OF-IT' where id = ?", [checkout.id]);
    expect(await checkout.pay(cards.good, undefined, "none")).toMatchObject({ state: "succeeded", amountMinor: 0 });
    expect(await em().count(RecurringPayment, { orderId: (await orderOf(checkout.id)).id })).toBe(0);
    expect(await linesOf(checkout.id)).toMatchObject([{ role: "front", grossMinor: 0, discountMinor: 10_000 }]);
  });
});

describe("a subscription", () => {
  const monthly: PriceTerms = { kind: "subscription", every: { unit: "month", n: 1 }, trialDays: 14, setup: 0, times: null };
  it("with a trial charges nothing at first but keeps the card, and begins when the trial is over", async () => {
    const context = await launchWith(monthly, { priceMinor: 1_200 });
    const checkout = await begin(context);
    const start = world.app.clock.now();
    expect(await checkout.pay()).toMatchObject({ state: "succeeded", amountMinor: 0 });
    const { id, nextAt } = await recurringPaymentOf(checkout.id);
    expect(Math.round((nextAt.getTime() - start.getTime()) / 86_400_000)).toBe(14);
    expect((await orderOf(checkout.id)).agreed.map(({ to }) => to)).toContain("later_payments");
    await world.app.clock.setTo(em(), new Date(nextAt.getTime() + 1));
    await Promise.all(Array.from({ length: 8 }, () => takeDuePayment(world.app, id)));
    expect((await em().find(Charge, { recurringPaymentId: id })).map(({ state, amountMinor }) => [state, amountMinor])).toEqual([
      ["succeeded", 1_200],
    ]);
    const after = await recurringPaymentOf(checkout.id);
    expect(after).toMatchObject({ paid: 1, state: "active", paymentsLeft: null });
    await endRecurringPayment(em(), id, "by_buyer", world.app.clock.now());
    await world.app.clock.setTo(em(), new Date(after.nextAt.getTime() + 1));
    await takeDuePayment(world.app, id);
    expect(await em().count(Charge, { recurringPaymentId: id })).toBe(1);
    await world.app.clock.setTo(em(), start);
  });
  it("whose card is refused is tried again on its days, and then ended; what was paid stays paid", async () => {
    const context = await launchWith({ ...monthly, trialDays: 0 }, { priceMinor: 1_200 });
    const checkout = await begin(context);
    const start = world.app.clock.now();
    expect(await checkout.pay("9990000000000078")).toMatchObject({ state: "succeeded", amountMinor: 1_200 });
    const { id } = await recurringPaymentOf(checkout.id);
    const states: string[] = [];
    for (let n = 0; n < 4; n += 1) {
      await world.app.clock.setTo(em(), new Date((await recurringPaymentOf(checkout.id)).nextAt.getTime() + 1));
      await takeDuePayment(world.app, id);
      states.push((await recurringPaymentOf(checkout.id)).state);
    }
    expect(states).toEqual(["late", "late", "late", "ended"]);
    expect(await recurringPaymentOf(checkout.id)).toMatchObject({ endedBecause: "card_refused", paid: 0, tries: 4 });
    expect((await linesOf(checkout.id)).map(({ role }) => role)).toEqual(["front"]);
    await balanced();
    await world.app.clock.setTo(em(), start);
  });
});

describe("other currencies", () => {
  it("are chosen at the checkout among those that have a price, and go to the account for them", async () => {
    const context = await launchWith(once, { prices: { USD: 16_900, JPY: 24_000 } });
    const checkout = await begin(context);
    await expect(checkout.choose({ currency: "GBP" })).rejects.toMatchObject({ faults: { currency: { code: "not_in_currency" } } });
    await checkout.choose({ currency: "JPY" });
    const charge = await checkout.pay();
    expect(charge).toMatchObject({ state: "succeeded", amountMinor: 24_000, currency: "JPY" });
    expect(await orderOf(checkout.id)).toMatchObject({ currency: "JPY" });
    expect((await deskCharges(world)).find(({ idempotency_key }) => idempotency_key === charge.idempotencyKey)).toMatchObject({
      amount: 24_000,
      currency: "JPY",
    });
    await balanced();
  });
  it("follow a price that rises in their own proportion", async () => {
    const context = await openLaunch(world, { offer: false, settings: { rising: { every: 1, stepMinor: 1_490, capMinor: 29_800 } } });
    await em().nativeUpdate(Product, { id: context.product.id }, { prices: { USD: 16_900 } });
    launchesOf(world.app).clear();
    const risen = (await launchesOf(world.app).bySlug(context.launch.slug))!;
    await buy(world, risen);
    const checkout = await begin(risen);
    await checkout.choose({ currency: "USD" });
    // A tenth dearer in euros is a tenth dearer in dollars.
    expect(await checkout.pay()).toMatchObject({ amountMinor: 18_590, currency: "USD" });
  });
});

describe("a price that was shown", () => {
  it("is held while it rises for others, and falls with them", async () => {
    const context = await openLaunch(world, { offer: false, settings: { rising: { every: 1, stepMinor: 1_000, capMinor: 99_900 } } });
    const checkout = await begin(context);
    for (let n = 0; n < 3; n += 1) await buy(world, context);
    expect(await checkout.pay(cards.good, 14_900)).toMatchObject({ state: "succeeded", amountMinor: 14_900 });
    const late = await begin(context);
    await buy(world, context);
    await advance(world, 16);
    await expect(late.pay(cards.good, 18_900)).rejects.toMatchObject({ code: "price_changed" });
    // What the refusal shows is held from then on, whatever others buy.
    await buy(world, context);
    expect(await late.pay(cards.good, 19_900)).toMatchObject({ state: "succeeded", amountMinor: 19_900 });
  });
});

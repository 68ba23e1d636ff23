import { launchesOf } from "../../src/server/launch/launchCache";
import { randomUUID } from "node:crypto";
import fc from "fast-check";
import { afterAll, afterEach, beforeAll, describe, expect, it } from "vitest";
import { mayBecome } from "../../src/core/offers";
import { httpCardProcessor } from "../../src/outside/cardProcessor";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { signLink } from "../../src/server/platform/access/signedLink";
import { settleCharge } from "../../src/server/payments/charging";
import { applyCardNotice } from "../../src/server/payments/notices";
import { refundOrder, settleRefund } from "../../src/server/payments/refunds";
import { captureAndFulfil, capturePayment } from "../../src/server/payments/fulfil";
import { recordTouch } from "../../src/server/partners/touch";
import { Charge, Order, OrderLine, Product, Refund, type DeskUser } from "../../src/store/tables";
import { loadLaunch } from "../../src/server/launch/launchContext";
import { orderList } from "../../src/store/checkout/orderList";
import { orderEvents } from "../../src/store/checkout/orderEvents";
import { addPartner, buy, buyer, cards, look, openLaunch, clickBy, decide, startWorld, visitor, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
  await addPartner(world, "skerry", 4_000);
});
afterAll(() => world.stop());
const em = () => world.app.fork();
const behave = (mood: string) =>
  fetch(`${world.settings["CARD_DESK_URL"]}/behave`, { method: "POST", body: new URLSearchParams({ mood }), redirect: "manual" });
afterEach(() => behave("well"));
const desk = () => httpCardProcessor(world.settings["CARD_DESK_URL"]!, world.settings["CARD_DESK_KEY"]!);

/** A launch of something that is sent, whose card is charged when it goes out. */
const sentLaunch = async (change: Parameters<typeof openLaunch>[1] = {}): Promise<LaunchContext> => {
  const made = await openLaunch(world, { offer: false, ...change });
  await em().nativeUpdate(Product, { id: made.product.id }, { kind: "shipped", chargeWhen: "when_sent" });
  launchesOf(world.app).clear();
  return (await loadLaunch(em(), { id: made.launch.id }))!;
};
const authorizedOrder = async (context: LaunchContext) => {
  const who = visitor();
  await recordTouch(em(), context.launch.id, clickBy("skerry"), who.visitorId, world.app.clock.now());
  const { order, charge, person } = await buy(world, context, who);
  return { order: order!, charge, who, person };
};
const booked = async (orderId: string): Promise<Record<string, number>> => {
  const rows = await em().execute<{ account: string; minor: string }[]>(
    "select x.account, sum(x.minor) as minor from journal j join posting x on x.journal_id = j.id where j.order_id = ? group by 1",
    [orderId],
  );
  return Object.fromEntries(rows.map(({ account, minor }) => [account, Number(minor)]));
};
const seats = async ({ launch }: LaunchContext): Promise<number> => {
  const [row] = await em().execute<{ n: string }[]>("select n from seats_taken where launch_id = ?", [launch.id]);
  return Number(row?.n ?? 0);
};
const take = (orderId: string, user: DeskUser = world.owner) => captureAndFulfil(world.app, em(), user, orderId);
const letGo = (orderId: string, amount: string) =>
  refundOrder(world.app, em(), world.owner, orderId, { act: randomUUID(), lines: {}, amount, reason: "Out of wool" });
const taken = {
  processor_clearing: 14_651,
  processor_fees: 249,
  sales: -12_114,
  tax_payable: -2_786,
  commission_expense: 4_846,
  partner_payable: -4_846,
};

describe("a payment that is held until the goods are sent", () => {
  it("places the order and takes its seat, and books nothing before it is taken", async () => {
    const context = await sentLaunch({ settings: { seats: 2 } });
    const { order, charge } = await authorizedOrder(context);
    expect(charge).toMatchObject({ state: "authorized", captureLater: true, settledAt: null });
    expect(await desk().chargeById(charge.processorId!)).toMatchObject({ status: "authorized", fee: 0 });
    expect(await booked(order.id)).toEqual({});
    expect(await seats(context)).toBe(1);
    // Whoever packs the parcels finds it among those that wait.
    const waiting = async () => (await orderList(em(), { launch: context.launch.id, state: "authorized" }, world.app.clock.now())).orders;
    expect(await waiting()).toMatchObject([{ id: order.id, authorizedMinor: 14_900 }]);
    await settleCharge(world.app, charge.id);
    expect(await take(order.id)).toEqual({ taken: 1, of: 1 });
    expect(await waiting()).toEqual([]);
    expect(await booked(order.id)).toEqual(taken);
    expect(await em().findOneOrFail(OrderLine, { orderId: order.id })).toMatchObject({ feeMinor: 249 });
    expect((await em().findOneOrFail(Order, { id: order.id })).fulfilledAt).toBeInstanceOf(Date);
    expect(await seats(context)).toBe(1);
    expect((await orderEvents(em(), order.id)).map(({ what }) => what)).toEqual(
      expect.arrayContaining(["Held on the card", "Card charged", "Goods sent"]),
    );
  });
  it("is taken once, however often it is pressed, told and asked again", async () => {
    const context = await sentLaunch();
    const { order, charge } = await authorizedOrder(context);
    const presses = await Promise.allSettled(Array.from({ length: 6 }, () => take(order.id)));
    for (const press of presses) if (press.status === "rejected") expect(press.reason).toMatchObject({ code: "nothing_authorized" });
    const data = await desk().chargeById(charge.processorId!);
    for (const type of ["charge.succeeded", "charge.succeeded"]) await applyCardNotice(world.app, { type, data });
    // The notice of the holding comes late.
    await applyCardNotice(world.app, { type: "charge.authorized", data: { ...data, status: "authorized", fee: 0 } });
    await capturePayment(world.app, charge.id);
    expect(await booked(order.id)).toEqual(taken);
  });
  it("asks the buyer's bank first where it wants to be asked, and is then held", async () => {
    const context = await sentLaunch();
    const { charge, order } = await buy(world, context, visitor(), buyer(), cards.asks);
    expect([charge.state, order]).toEqual(["challenge", null]);
    await fetch(charge.challengeUrl!, { method: "POST", body: new URLSearchParams({ answer: "yes" }), redirect: "manual" });
    await applyCardNotice(world.app, { type: "charge.authorized", data: await desk().chargeById(charge.processorId!) });
    expect((await em().findOneOrFail(Charge, { id: charge.id })).state).toBe("authorized");
    expect(await em().count(Order, { checkoutId: charge.checkoutId })).toBe(1);
  });
  it("waits where the processor is down, and is taken by the worker when it is back, also where its answer was lost", async () => {
    const context = await sentLaunch();
    for (const mood of ["down", "deaf"]) {
      const { order, charge } = await authorizedOrder(context);
      await behave(mood);
      expect(await take(order.id)).toEqual({ taken: 0, of: 1 });
      await expect(capturePayment(world.app, charge.id)).rejects.toThrow("has not answered yet");
      expect((await em().findOneOrFail(Order, { id: order.id })).fulfilledAt).toBeNull();
      await behave("well");
      await capturePayment(world.app, charge.id);
      expect(await booked(order.id)).toEqual(taken);
    }
  });
  it("is let go of whole: counted as given back, with no money moved, and its seat is free again", async () => {
    const context = await sentLaunch({ settings: { seats: 1 } });
    const { order, charge } = await authorizedOrder(context);
    await expect(letGo(order.id, "20.00")).rejects.toMatchObject({ code: "only_authorized" });
    await letGo(order.id, "149.00");
    expect((await em().findOneOrFail(Charge, { id: charge.id })).state).toBe("voided");
    expect(await em().find(Refund, { orderId: order.id })).toMatchObject([{ state: "succeeded", amountMinor: 14_900, reason: "Out of wool" }]);
    expect(await booked(order.id)).toEqual({});
    await expect(take(order.id)).rejects.toMatchObject({ code: "nothing_authorized" });
    expect(await seats(context)).toBe(0);
    expect((await buy(world, context)).charge.state).toBe("authorized");
  });
  it("that the bank lets go of by itself says so on the order, and cannot be taken any more", async () => {
    const context = await sentLaunch();
    const { order, charge } = await authorizedOrder(context);
    await fetch(`${world.settings["CARD_DESK_URL"]}/charges/${charge.processorId!}/lapse`, { method: "POST", redirect: "manual" });
    // Pressed before the news is here: the processor's answer brings it.
    expect(await take(order.id)).toEqual({ taken: 0, of: 1 });
    expect(await em().find(Refund, { orderId: order.id })).toMatchObject([{ state: "succeeded", askedBy: null, amountMinor: 14_900 }]);
    expect((await em().findOneOrFail(Order, { id: order.id })).fulfilledAt).toBeNull();
    await applyCardNotice(world.app, { type: "charge.voided", data: await desk().chargeById(charge.processorId!) });
    expect(await em().count(Refund, { orderId: order.id })).toBe(1);
  });
  it("that is being let go of, though the processor is down, is not taken meanwhile", async () => {
    const { order, charge } = await authorizedOrder(await sentLaunch());
    await behave("down");
    const { refunds } = await letGo(order.id, "149.00");
    await expect(take(order.id)).rejects.toMatchObject({ code: "being_voided" });
    await behave("well");
    await settleRefund(world.app, refunds[0]!.id);
    expect((await em().findOneOrFail(Charge, { id: charge.id })).state).toBe("voided");
    expect(await booked(order.id)).toEqual({});
  });
  it("given back after it was taken is a refund like any other", async () => {
    const { order } = await authorizedOrder(await sentLaunch());
    await take(order.id);
    await letGo(order.id, "149.00");
    expect(await booked(order.id)).toEqual({
      processor_clearing: -249,
      processor_fees: 249,
      sales: -12_114,
      refunds: 12_114,
      tax_payable: 0,
      commission_expense: 0,
      partner_payable: 0,
    });
  });
  it("of an offer is held beside what was taken at once, and taken with one press", async () => {
    const made = await openLaunch(world);
    const [step] = made.steps;
    await em().nativeUpdate(Product, { id: step!.product.id }, { kind: "shipped", chargeWhen: "when_sent" });
    launchesOf(world.app).clear();
    const context = (await loadLaunch(em(), { id: made.launch.id }))!;
    const { order } = await authorizedOrder(context);
    expect((await decide(world, context, order.id, step!.id, "yes"))!.state).toBe("authorized");
    expect(await booked(order.id)).toEqual(taken);
    expect(await take(order.id)).toEqual({ taken: 1, of: 1 });
    expect((await booked(order.id))["sales"]).toBe(-12_114 - 5_447);
  });
  it("is told to the buyer before the press and on the receipt", async () => {
    const context = await sentLaunch();
    const { order, who } = await authorizedOrder(context);
    const o = signLink(world.app.config.INKBELL_SECRET, "order", order.id, world.app.clock.now(), 1);
    const thanks = context.pages.find(({ kind }) => kind === "thanks")!;
    expect((await look(world, context, thanks.slug, who.visitorId, { o })).body).toContain("€149.00 of it: authorized on your card");
    const other = visitor();
    await buy(world, context, other, buyer(), cards.poor);
    expect((await look(world, context, "checkout", other.visitorId)).body).toContain(
      "Your card is authorized now, and charged when your order ships.",
    );
  });
  it("is taken by nobody who may only look", async () => {
    const { order } = await authorizedOrder(await sentLaunch());
    await expect(take(order.id, { ...world.owner, role: "viewer" })).rejects.toMatchObject({ code: "not_allowed" });
    await expect(take(order.id, { ...world.owner, role: "editor" })).rejects.toMatchObject({ code: "not_allowed" });
  });
});

describe("what a charge may become", () => {
  it("ends for good: told in any order, news never leads from one end to another", () => {
    const states = ["pending", "challenge", "authorized", "succeeded", "declined", "voided"] as const;
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...states), { maxLength: 12 }), (news) => {
        const ends = news.reduce<(typeof states)[number][]>((seen, to) => (mayBecome(seen.at(-1)!, to) ? [...seen, to] : seen), ["pending"]);
        expect(ends.filter((state) => state === "succeeded" || state === "declined" || state === "voided").length).toBeLessThanOrEqual(1);
        if (ends.includes("voided")) expect(ends).toContain("authorized");
      }),
    );
  });
});

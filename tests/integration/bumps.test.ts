import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { builder, idsFrom, pageOf } from "../../src/core/pages";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { makeBumpProduct } from "../../src/server/products/products";
import { startCheckout, tickBump } from "../../src/server/checkout/checkout";
import { payCheckout } from "../../src/server/checkout/paying";
import { recordTouch } from "../../src/server/partners/touch";
import { Checkout, Order, OrderLine, Page } from "../../src/store/tables";
import { orderPostings } from "../../src/store/money/orderPostings";
import { addPartner, buyer, cardToken, deskCharges, look, openLaunch, publishAs, clickBy, startWorld, visitor, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const b = builder(idsFrom("b"));

/** A launch whose checkout offers these additions. */
const withBumps = async (prices: string[]): Promise<{ context: LaunchContext; products: string[] }> => {
  const first = await openLaunch(world, { offer: false });
  const page = await em().findOneOrFail(Page, { launchId: first.launch.id, kind: "checkout" });
  const made = [];
  for (const [index, price] of prices.entries())
    made.push(await makeBumpProduct(em(), world.owner, page.id, { name: `Addition ${index + 1}`, price }, new Date()));
  const bumps = made.map(({ id }, index) => b.made("bump", { product: id, tick: `Yes, number ${index + 1}` }));
  const context = await publishAs(world, first, "checkout", pageOf([b.section([b.title("Order"), b.made("checkout", {}), ...bumps])]));
  return { context, products: made.map(({ id }) => id) };
};
const begin = async (context: LaunchContext) => {
  const [who, person] = [visitor(), buyer()];
  const checkout = await startCheckout(world.app, em(), context, person, who);
  const tick = (product: string, on = true, by = who.visitorId) =>
    tickBump(world.app, em(), context, { checkout: checkout.id, product, ...(on ? { tick: "yes" as const } : {}) }, { visitorId: by });
  const pay = async (shown?: number) =>
    payCheckout(
      world.app,
      em(),
      context,
      { ...person, checkout: checkout.id, cardToken: await cardToken(world), waiver: "yes" as const, shown },
      who,
    );
  return { who, checkout, tick, pay };
};
const linesOf = async (checkoutId: string) => {
  const order = await em().findOneOrFail(Order, { checkoutId });
  const lines = await em().find(OrderLine, { orderId: order.id });
  return { order, lines };
};

describe("an order bump", () => {
  it("is not ticked beforehand; ticked, it is one more line of one charge, with its own tax, fee, journal and commission", async () => {
    const { context, products } = await withBumps(["17.00"]);
    const partner = await addPartner(world, `bump-${randomUUID().slice(0, 6)}`);
    const { who, checkout, tick, pay } = await begin(context);
    await recordTouch(em(), context.launch.id, clickBy(partner.code), who.visitorId, world.app.clock.now());
    const before = await look(world, context, "checkout", who.visitorId);
    expect(before.body).toContain("Addition 1, €17.00");
    expect(before.body).not.toMatch(/name="tick"[^>]*checked/);
    expect(before.body).toContain('name="shown" value="14900"');
    await tick(products[0]!);
    const after = await look(world, context, "checkout", who.visitorId);
    expect(after.body).toContain('name="shown" value="16600"');
    expect(after.body).toMatch(/name="tick"[^>]*checked/);
    const charge = await pay(16_600);
    expect(charge).toMatchObject({ state: "succeeded", amountMinor: 16_600 });
    const { order, lines } = await linesOf(checkout.id);
    // 17.00 with 23 % in it: 17 · 23/123 = 3.18.
    expect(lines.find(({ role }) => role === "bump")).toMatchObject({ grossMinor: 1_700, taxMinor: 318, netMinor: 1_382, rateBp: 2_300 });
    expect(lines.find(({ role }) => role === "front")).toMatchObject({ grossMinor: 14_900 });
    // The desk's own fee of the whole, not a cent lost between the lines.
    expect(lines.reduce((sum, line) => sum + line.feeMinor, 0)).toBe(Math.round(16_600 * 0.015) + 25);
    const [earned] = await em().execute<{ minor: string }[]>(
      "select sum(c.minor) as minor from commission c join order_line n on n.id = c.line_id where n.order_id = ?",
      [order.id],
    );
    expect(Number(earned!.minor)).toBe(Math.round(12_114 * 0.4) + Math.round(1_382 * 0.4));
    const postings = await orderPostings(em(), order.id);
    expect(postings.reduce((sum, { minor }) => sum + minor, 0)).toBe(0);
    const booked = await em().execute<{ n: string }[]>("select count(*) as n from journal where order_id = ? and kind = 'payment'", [order.id]);
    expect(Number(booked[0]!.n)).toBe(2);
  });
  it("counts once however often it is ticked, not when the tick is taken out, and only for its own browser", async () => {
    const { context, products } = await withBumps(["17.00", "5.00"]);
    const { checkout, tick, pay } = await begin(context);
    await Promise.all([tick(products[0]!), tick(products[0]!), tick(products[1]!)]);
    await tick(products[1]!, false);
    await expect(tick(products[1]!, true, randomUUID())).rejects.toMatchObject({ status: 404 });
    await expect(tick(randomUUID())).rejects.toMatchObject({ code: "bump_gone" });
    await pay();
    const { lines } = await linesOf(checkout.id);
    expect(lines.map(({ grossMinor }) => grossMinor).sort((x, y) => x - y)).toEqual([1_700, 14_900]);
    // Ticked after the payment, it changes nothing.
    await tick(products[1]!);
    expect((await em().findOneOrFail(Checkout, { id: checkout.id })).bumps).toEqual([products[0]]);
  });
  it("is not charged under a total that the buyer did not see, nor once it is taken from the page", async () => {
    const { context, products } = await withBumps(["17.00"]);
    const one = await begin(context);
    await one.tick(products[0]!);
    await expect(one.pay(14_900)).rejects.toMatchObject({ code: "price_changed" });
    const without = await publishAs(world, context, "checkout", pageOf([b.section([b.title("Order"), b.made("checkout", {})])]));
    const [who, person] = [one.who, buyer()];
    const charge = await payCheckout(
      world.app,
      em(),
      without,
      { ...person, checkout: one.checkout.id, cardToken: await cardToken(world), waiver: "yes" as const, shown: 14_900 },
      who,
    );
    expect(charge.amountMinor).toBe(14_900);
  });
  it("charges for any choice of additions the sum of its lines, once", async () => {
    const prices = ["0.01", "17.00", "9.99"];
    const { context, products } = await withBumps(prices);
    for (let choice = 0; choice < 2 ** prices.length; choice += 1) {
      const chosen = products.filter((_, index) => choice & (1 << index));
      const { checkout, tick, pay } = await begin(context);
      for (const product of chosen) await tick(product);
      const [charge] = await Promise.all([pay(), pay()]);
      const { lines } = await linesOf(checkout.id);
      expect(lines).toHaveLength(1 + chosen.length);
      const sum = lines.reduce((total, line) => total + line.grossMinor, 0);
      expect(charge.amountMinor).toBe(sum);
      for (const line of lines) expect(line.grossMinor).toBe(line.netMinor + line.taxMinor);
      const taken = (await deskCharges(world)).filter(({ idempotency_key }) => idempotency_key.includes(checkout.id));
      expect(taken.map(({ amount }) => amount)).toEqual([sum]);
    }
  });
});

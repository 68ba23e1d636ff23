import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { checkoutPay } from "../../src/core/offers";
import { onceMoreAfterDeadlock } from "../../src/server/platform/deadlock";
import { Refusal } from "../../src/server/platform/refusal";
import { currentCheckout, startCheckout } from "../../src/server/checkout/checkout";
import { payCheckout } from "../../src/server/checkout/paying";
import { refreshCharge, settleCharge } from "../../src/server/payments/charging";
import { nextAddress, placeOnPath } from "../../src/server/checkout/offerPath";
import { Charge, Order, OrderLine } from "../../src/store/tables";
import { orderPostings } from "../../src/store/money/orderPostings";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { advance, buy, buyer, cards, cardToken, deskCharges, openLaunch, decide, startWorld, until, visitor, type World } from "../support/world";

let world: World;
let context: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  context = await openLaunch(world);
});
afterAll(() => world.stop());

const refusal = async (work: Promise<unknown>): Promise<string> => {
  try {
    await work;
  } catch (error) {
    if (error instanceof Refusal) return error.code;
    throw error;
  }
  return "none";
};
const lines = (orderId: string) => world.app.fork().find(OrderLine, { orderId });

describe("a checkout", () => {
  it("becomes one order with tax in the price, and a receipt that is due", async () => {
    const { charge, order } = await buy(world, context);
    expect(charge.state).toBe("succeeded");
    const [line] = await lines(order!.id);
    expect(line).toMatchObject({ grossMinor: 14_900, taxMinor: 2_786, netMinor: 12_114, rateBp: 2_300, role: "front", feeMinor: 249 });
    const emails = await world.app.fork().execute("select kind from email_message where key = ?", [`receipt:${order!.id}`]);
    expect(emails).toEqual([{ kind: "receipt" }]);
  });

  it("adds the tax where the product says so: 99.90 at 8 % charges 107.89", async () => {
    const exclusive = await openLaunch(world, { price: "99.90", taxMode: "exclusive" });
    const person = { ...buyer(), country: "CH" };
    const { order, charge } = await buy(world, exclusive, visitor(), person);
    expect((await lines(order!.id))[0]).toMatchObject({ netMinor: 9_990, taxMinor: 799, grossMinor: 10_789 });
    expect((await deskCharges(world)).find(({ id }) => id === charge.processorId)?.amount).toBe(10_789);
  });

  it("pressed ten times at once charges once", async () => {
    const who = visitor();
    const person = buyer();
    const checkout = await startCheckout(world.app, world.app.fork(), context, person, who);
    const request = { ...person, checkout: checkout.id, cardToken: await cardToken(world), waiver: "yes" as const };
    await Promise.all(Array.from({ length: 10 }, () => payCheckout(world.app, world.app.fork(), context, request, who)));
    expect((await deskCharges(world)).filter(({ idempotency_key }) => idempotency_key.includes(checkout.id))).toHaveLength(1);
    expect(await world.app.fork().count(Order, { checkoutId: checkout.id })).toBe(1);
  });

  it("keeps what was typed when the card is refused, and takes the next card", async () => {
    const who = visitor();
    const person = buyer("DE");
    const refused = await buy(world, context, who, person, cards.poor);
    expect(refused.charge).toMatchObject({ state: "declined", declineCode: "insufficient_funds" });
    expect(refused.order).toBeNull();
    const open = await currentCheckout(world.app.fork(), context, who.visitorId);
    expect(open).toMatchObject({ ...person, paidAt: null });
    const again = await buy(world, context, who, person, cards.good);
    expect(again.charge.state).toBe("succeeded");
    expect(again.order!.checkoutId).toBe(open!.id);
  });

  it("with a token that was used already is refused, charges nothing, and takes the next card", async () => {
    const token = await cardToken(world);
    const pay = async (who = visitor(), person = buyer(), card = token) => {
      const checkout = await startCheckout(world.app, world.app.fork(), context, person, who);
      return payCheckout(world.app, world.app.fork(), context, { ...person, checkout: checkout.id, cardToken: card, waiver: "yes" as const }, who);
    };
    expect((await pay()).state).toBe("succeeded");
    const [who, person] = [visitor(), buyer()];
    expect(await pay(who, person)).toMatchObject({ state: "declined", declineCode: "card_not_taken" });
    expect((await pay(who, person, await cardToken(world))).state).toBe("succeeded");
  });

  it("waits for the bank's question, and only the processor's word makes an order", async () => {
    const { charge, order } = await buy(world, context, visitor(), buyer(), cards.asks);
    expect(charge.state).toBe("challenge");
    expect(order).toBeNull();
    // Coming back without an answer changes nothing.
    expect((await refreshCharge(world.app, charge.id)).state).toBe("challenge");
    await fetch(charge.challengeUrl!, { method: "POST", body: "answer=yes", redirect: "manual" });
    expect((await refreshCharge(world.app, charge.id)).state).toBe("succeeded");
    expect((await refreshCharge(world.app, charge.id)).state).toBe("succeeded");
    expect(await world.app.fork().count(Order, { checkoutId: charge.checkoutId })).toBe(1);
  });

  it("is refused by the bank's question, in words", async () => {
    const { charge } = await buy(world, context, visitor(), buyer(), cards.asks);
    await fetch(charge.challengeUrl!, { method: "POST", body: "answer=no", redirect: "manual" });
    expect(await refreshCharge(world.app, charge.id)).toMatchObject({ state: "declined", declineCode: "challenge_failed" });
  });

  it("is nobody's but the visitor's who began it", async () => {
    const person = buyer();
    const checkout = await startCheckout(world.app, world.app.fork(), context, person, visitor());
    const request = checkoutPay.parse({ ...person, checkout: checkout.id, cardToken: await cardToken(world), waiver: "yes" as const });
    expect(await refusal(payCheckout(world.app, world.app.fork(), context, request, visitor()))).toBe("not_found");
  });

  it("of somebody else is not shown to who types their address", async () => {
    const person = buyer();
    await startCheckout(world.app, world.app.fork(), context, person, visitor());
    const stranger = visitor();
    const theirs = await startCheckout(world.app, world.app.fork(), context, { ...person, firstName: "Mallory" }, stranger);
    expect((await currentCheckout(world.app.fork(), context, stranger.visitorId))!.id).toBe(theirs.id);
    expect(theirs.firstName).toBe("Mallory");
  });

  it("is finished by the worker where the request died after the charge was written", async () => {
    const who = visitor();
    const person = buyer();
    const checkout = await startCheckout(world.app, world.app.fork(), context, person, who);
    const dying = { charge: () => Promise.reject(new Error("the process died")) };
    const broken = {
      ...world.app,
      cards: { fieldUrls: [], for: (of: Parameters<typeof world.app.cards.for>[0]) => ({ ...world.app.cards.for(of), ...dying }) },
    };
    const request = { ...person, checkout: checkout.id, cardToken: await cardToken(world), waiver: "yes" as const };
    await expect(payCheckout(broken, world.app.fork(), context, request, who)).rejects.toThrow("the process died");
    const charge = await world.app.fork().findOneOrFail(Charge, { checkoutId: checkout.id });
    expect(charge.state).toBe("pending");
    await settleCharge(world.app, charge.id);
    await settleCharge(world.app, charge.id);
    expect(await world.app.fork().count(Order, { checkoutId: checkout.id })).toBe(1);
  });
});

describe("the doors", () => {
  it("refuse before the opening bell", async () => {
    const early = await openLaunch(world, { opensIn: 2, closesIn: 50 });
    expect(await refusal(startCheckout(world.app, world.app.fork(), early, buyer(), visitor()))).toBe("doors_not_open");
  });
  it("refuse after the closing bell, but let a checkout finish that was begun before", async () => {
    const closing = await openLaunch(world, { closesIn: 1 });
    const who = visitor();
    const person = buyer();
    await startCheckout(world.app, world.app.fork(), closing, person, who);
    await advance(world, 62);
    expect(await refusal(startCheckout(world.app, world.app.fork(), closing, buyer(), visitor()))).toBe("doors_closed");
    expect((await buy(world, closing, who, person)).charge.state).toBe("succeeded");
  });
  it("close for good when the grace time is over, and nothing is charged", async () => {
    const closing = await openLaunch(world, { closesIn: 1 });
    const who = visitor();
    const person = buyer();
    const checkout = await startCheckout(world.app, world.app.fork(), closing, person, who);
    await advance(world, 71);
    const request = { ...person, checkout: checkout.id, cardToken: await cardToken(world), waiver: "yes" as const };
    expect(await refusal(payCheckout(world.app, world.app.fork(), closing, request, who))).toBe("grace_over");
    expect(await world.app.fork().count(Charge, { checkoutId: checkout.id })).toBe(0);
  });
  it("are no doors at all before the pages are published: nothing charges", async () => {
    const draft = await openLaunch(world, { publish: false });
    expect(await refusal(startCheckout(world.app, world.app.fork(), draft, buyer(), visitor()))).toBe("not_published");
  });
});

describe("an offer after the payment", () => {
  const step = () => context.steps[0]!;
  const offerCharges = async (orderId: string) =>
    (await deskCharges(world)).filter(({ idempotency_key }) => idempotency_key.startsWith(`offer:${orderId}`));

  it("charges the stored card once, however often yes is pressed, reloaded or replayed", async () => {
    const { order } = await buy(world, context);
    expect(await nextAddress(world.app.fork(), context, order!)).toBe("offer");
    await Promise.all(Array.from({ length: 8 }, () => decide(world, context, order!.id, step().id, "yes")));
    await decide(world, context, order!.id, step().id, "yes");
    expect(await offerCharges(order!.id)).toMatchObject([{ status: "succeeded", amount: 6_700 }]);
    expect((await lines(order!.id)).map(({ role }) => role).sort()).toEqual(["front", "offer"]);
    expect((await placeOnPath(world.app.fork(), context, order!)).step).toBeUndefined();
  });
  it("goes on after no, which a later yes does not change", async () => {
    const { order } = await buy(world, context);
    await decide(world, context, order!.id, step().id, "no");
    await decide(world, context, order!.id, step().id, "yes");
    expect(await offerCharges(order!.id)).toEqual([]);
    expect(await nextAddress(world.app.fork(), context, order!)).toBe("thank-you");
  });
  it("asks the bank where the card does, and resumes where it was", async () => {
    const { charge } = await buy(world, context, visitor(), buyer(), cards.asks);
    await fetch(charge.challengeUrl!, { method: "POST", body: "answer=yes", redirect: "manual" });
    await refreshCharge(world.app, charge.id);
    const order = await world.app.fork().findOneOrFail(Order, { checkoutId: charge.checkoutId });
    const asked = await decide(world, context, order.id, step().id, "yes");
    expect(asked!.state).toBe("challenge");
    // While the question is open, "no" neither cancels nor doubles it.
    expect((await decide(world, context, order.id, step().id, "no"))!.id).toBe(asked!.id);
    await fetch(asked!.challengeUrl!, { method: "POST", body: "answer=no", redirect: "manual" });
    expect((await refreshCharge(world.app, asked!.id)).state).toBe("declined");
    const again = await decide(world, context, order.id, step().id, "yes");
    await fetch(again!.challengeUrl!, { method: "POST", body: "answer=yes", redirect: "manual" });
    await refreshCharge(world.app, again!.id);
    expect(await lines(order.id)).toHaveLength(2);
  });
  it("of another launch is refused", async () => {
    const other = await openLaunch(world);
    const { order } = await buy(world, context);
    expect(await refusal(decide(world, other, order!.id, other.steps[0]!.id, "yes"))).toBe("not_found");
  });
});

describe("the ledger", () => {
  it("holds a balanced journal of each payment", async () => {
    const { order } = await buy(world, context);
    const postings = await orderPostings(world.app.fork(), order!.id);
    expect(postings.reduce((sum, { minor }) => sum + minor, 0)).toBe(0);
    expect(Object.fromEntries(postings.map(({ account, minor }) => [account, minor]))).toEqual({
      processor_clearing: 14_651,
      processor_fees: 249,
      sales: -12_114,
      tax_payable: -2_786,
    });
  });
  it("adds up to zero over everything that was ever booked here", async () => {
    const sums = await world.app.fork().execute<{ sum: string }[]>("select sum(minor) from posting group by currency");
    expect(sums.map(({ sum }) => Number(sum))).toEqual([0]);
  });
  it("refuses a journal that does not sum to zero, in the database itself", async () => {
    const em = world.app.fork();
    const book = em.transactional(async (tx) => {
      const id = randomUUID();
      await tx.execute("insert into journal (id, kind, at) values (?, 'payment', now())", [id]);
      await tx.execute("insert into posting (journal_id, position, account, minor, currency) values (?, 0, 'sales', -5, 'EUR')", [id]);
    });
    await expect(book).rejects.toThrow("does not sum to zero");
  });
  it("cannot be changed or emptied", async () => {
    await expect(world.app.fork().execute("update posting set minor = minor * 2")).rejects.toThrow("append-only");
    await expect(world.app.fork().execute("delete from journal")).rejects.toThrow("append-only");
  });
});

describe("two transactions that wait for one another", () => {
  it("both come through: the one that the database ends is run once more", async () => {
    const em = world.app.fork();
    await em.execute("insert into rate_limit (key, from_at, tries) values ('a', now(), 0), ('b', now(), 0)");
    let waiting = 2;
    const bump = (first: string, second: string) =>
      onceMoreAfterDeadlock(() =>
        world.app.fork().transactional(async (tx) => {
          await tx.execute("update rate_limit set tries = tries + 1 where key = ?", [first]);
          waiting -= 1;
          // Each holds its first row before either asks for the second.
          await until(() => Promise.resolve(waiting <= 0));
          await tx.execute("update rate_limit set tries = tries + 1 where key = ?", [second]);
        }),
      );
    await Promise.all([bump("a", "b"), bump("b", "a")]);
    const rows = await em.execute<{ tries: number }[]>("select tries from rate_limit where key in ('a', 'b')");
    expect(rows.map(({ tries }) => tries)).toEqual([2, 2]);
    await expect(onceMoreAfterDeadlock(() => Promise.reject(new Error("another")))).rejects.toThrow("another");
  });
});

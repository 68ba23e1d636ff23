import { book } from "../../src/server/money/book";
import { commissionPostings, orderSorts, type OrderRow, type OrderSort } from "../../src/core/money";
import { launchesOf } from "../../src/server/launch/launchCache";
import fc from "fast-check";
import { randomUUID } from "node:crypto";
import { Webhook } from "standardwebhooks";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { receiveNotice } from "../../src/server/platform/http/notices";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { enterByHand, sendReceiptAgain } from "../../src/server/checkout/handOrders";
import { applyCardNotice } from "../../src/server/payments/notices";
import { refundOrder, settleRefund } from "../../src/server/payments/refunds";
import { recordTouch } from "../../src/server/partners/touch";
import type { Charge, DeskUser } from "../../src/store/tables";
import { Commission, Dispute, Journal, Order, OrderLine, Product, RecurringPayment, Refund } from "../../src/store/tables";
import { orderList } from "../../src/store/checkout/orderList";
import { addPartner, advance, buy, buyer, openLaunch, clickBy, startWorld, until, visitor, withWorker, type World } from "../support/world";

let world: World;
let context: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  await addPartner(world, "skerry", 4_000);
});
afterAll(() => world.stop());
beforeEach(async () => {
  context = await openLaunch(world, { offer: false });
});
const em = () => world.app.fork();

const sale = async () => {
  const who = visitor();
  await recordTouch(em(), context.launch.id, clickBy("skerry"), who.visitorId, world.app.clock.now());
  const { order, charge, person } = await buy(world, context, who);
  const [line] = await em().find(OrderLine, { orderId: order!.id });
  return { order: order!, charge, line: line!, person };
};
const balances = async (orderId: string): Promise<Record<string, number>> => {
  const rows = await em().execute<{ account: string; minor: string }[]>(
    "select x.account, sum(x.minor) as minor from journal j join posting x on x.journal_id = j.id where j.order_id = ? group by 1",
    [orderId],
  );
  return Object.fromEntries(rows.map(({ account, minor }) => [account, Number(minor)]));
};
const back = (orderId: string, request: { lines?: Record<string, string>; amount?: string }) =>
  refundOrder(world.app, em(), world.owner, orderId, { act: randomUUID(), lines: {}, amount: "", reason: "Changed their mind", ...request });

describe("a refund", () => {
  it("in whole leaves the processor's fee as the only cost, and no commission", async () => {
    const { order } = await sale();
    await back(order.id, { amount: "149.00" });
    expect(await balances(order.id)).toEqual({
      processor_clearing: -249,
      processor_fees: 249,
      sales: -12_114,
      refunds: 12_114,
      tax_payable: 0,
      commission_expense: 0,
      partner_payable: 0,
    });
    await expect(back(order.id, { amount: "0.01" })).rejects.toMatchObject({ faults: { amount: { code: "more_than_left", left: 0 } } });
  });
  it("in any parts adds up to the whole: price, tax and commission, to the cent", async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.integer({ min: 1, max: 6_000 }), { minLength: 1, maxLength: 5 }), async (parts) => {
        const { order, line } = await sale();
        let left = 14_900;
        for (const part of [...parts.map((part) => Math.min(part, 3_000)), 14_900]) {
          const now = Math.min(part, left);
          if (now > 0) await back(order.id, { lines: { [line.id]: (now / 100).toFixed(2) } });
          left -= now;
          const { tax_payable, refunds = 0, partner_payable } = await balances(order.id);
          expect(-tax_payable!).toBeGreaterThanOrEqual(0);
          expect(refunds - 12_114).toBeLessThanOrEqual(0);
          // What the partner keeps is never more than the rate of what the vendor keeps, by more than a cent.
          expect(-partner_payable!).toBeLessThanOrEqual(Math.round((12_114 - refunds) * 0.4) + 1);
        }
        expect(await balances(order.id)).toMatchObject({ tax_payable: 0, refunds: 12_114, partner_payable: 0 });
      }),
      { numRuns: 4 },
    );
  });
  it("of an amount that may mean two things is asked back, and nothing goes out", async () => {
    const { order } = await sale();
    await expect(back(order.id, { amount: "1.000" })).rejects.toMatchObject({
      faults: { amount: { code: "amount", refusal: { code: "ambiguous", readings: [100_000, 100] } } },
    });
    expect(await em().count(Refund, { orderId: order.id })).toBe(0);
    await back(order.id, { amount: "€17.00" });
    expect(await em().findOneOrFail(Refund, { orderId: order.id })).toMatchObject({ amountMinor: 1_700 });
  });
  it("beyond what was paid is refused at its line, and nothing goes out", async () => {
    const { order, line } = await sale();
    await expect(back(order.id, { lines: { [line.id]: "149.01" } })).rejects.toMatchObject({
      faults: { [`lines.${line.id}`]: { code: "more_than_left", left: 14_900 } },
    });
    await expect(back(order.id, {})).rejects.toMatchObject({ faults: { amount: { code: "refund_missing" } } });
    expect(await em().count(Refund, { orderId: order.id })).toBe(0);
  });
  it("asked for by two at once goes out once", async () => {
    const { order } = await sale();
    const ends = await Promise.allSettled([back(order.id, { amount: "149.00" }), back(order.id, { amount: "149.00" })]);
    expect(ends.map(({ status }) => status).sort()).toEqual(["fulfilled", "rejected"]);
    expect((await em().find(Refund, { orderId: order.id })).map(({ state }) => state)).toEqual(["succeeded"]);
  });
  it("whose answer was lost is asked for again with its key, and booked once", async () => {
    const { order } = await sale();
    const behave = (mood: string) =>
      fetch(`${world.settings["CARD_DESK_URL"]}/behave`, { method: "POST", body: new URLSearchParams({ mood }), redirect: "manual" });
    await behave("deaf");
    const { refunds } = await back(order.id, { amount: "49.00" });
    expect(await em().findOneOrFail(Refund, { id: refunds[0]!.id })).toMatchObject({ state: "pending" });
    await behave("well");
    await settleRefund(world.app, refunds[0]!.id);
    await settleRefund(world.app, refunds[0]!.id);
    expect(await em().findOneOrFail(Refund, { id: refunds[0]!.id })).toMatchObject({ state: "succeeded" });
    expect((await balances(order.id))["processor_clearing"]).toBe(14_900 - 249 - 4_900);
  });
  it("is given by an owner or finance alone", async () => {
    const { order } = await sale();
    const editor = { ...world.owner, role: "editor" } as DeskUser;
    await expect(refundOrder(world.app, em(), editor, order.id, { act: randomUUID(), lines: {}, amount: "1.00", reason: "x" })).rejects.toMatchObject(
      { status: 403 },
    );
  });
  it("of all of a subscription ends its payments", async () => {
    const terms = { kind: "subscription" as const, every: { unit: "month" as const, n: 1 }, trialDays: 0, setup: 0, times: null };
    await em().nativeUpdate(Product, { id: context.product.id }, { terms });
    context = (await openLaunchAgain())!;
    const { order } = await sale();
    await back(order.id, { amount: "149.00" });
    expect(await em().findOneOrFail(RecurringPayment, { orderId: order.id })).toMatchObject({ state: "ended", endedBecause: "refunded" });
  });
});

const openLaunchAgain = async () => {
  launchesOf(world.app).clear();
  return launchesOf(world.app).bySlug(context.launch.slug);
};

describe("a dispute", () => {
  const tell = async (type: string, data: unknown) => {
    const body = JSON.stringify({ type, data });
    const id = `msg_${randomUUID()}`;
    const at = new Date();
    const headers = new Headers({
      "webhook-id": id,
      "webhook-timestamp": String(Math.floor(at.getTime() / 1000)),
      "webhook-signature": new Webhook(world.settings["CARD_DESK_NOTICE_SECRET"]!).sign(id, at, body),
    });
    return receiveNotice(world.app, "card-desk", world.settings["CARD_DESK_NOTICE_SECRET"]!, headers, body, applyCardNotice);
  };
  const notified = (charge: Charge, status: string, amount = 14_900) => ({
    id: `dp_${charge.id}`,
    charge: charge.processorId,
    status,
    amount,
    currency: "EUR",
    fee: 1_500,
    reason: "not_recognised",
  });
  it("takes the payment, the tax and the commission back, and costs its fee; told twice it counts once", async () => {
    const { order, charge } = await sale();
    await tell("dispute.opened", notified(charge, "open"));
    await tell("dispute.opened", notified(charge, "open"));
    expect(await balances(order.id)).toMatchObject({
      processor_clearing: -249 - 1_500,
      processor_fees: 249 + 1_500,
      disputes: 12_114,
      sales: -12_114,
      tax_payable: 0,
      partner_payable: 0,
      commission_expense: 0,
    });
    await tell("dispute.closed", notified(charge, "lost"));
    expect((await balances(order.id))["disputes"]).toBe(12_114);
    await expect(back(order.id, { amount: "1.00" })).rejects.toMatchObject({ faults: { amount: { code: "more_than_left" } } });
  });
  it("that is won brings all of it back but the fee, also where its end is told first", async () => {
    const { order, charge } = await sale();
    await tell("dispute.closed", notified(charge, "won"));
    await tell("dispute.opened", notified(charge, "open"));
    expect(await balances(order.id)).toMatchObject({
      processor_clearing: 14_900 - 249 - 1_500,
      disputes: 0,
      tax_payable: -2_786,
      partner_payable: -4_846,
      commission_expense: 4_846,
    });
    expect(await em().findOneOrFail(Dispute, { orderId: order.id })).toMatchObject({ state: "won" });
  });
  it("after a refund in part takes back only what was left", async () => {
    const { order, charge } = await sale();
    await back(order.id, { amount: "49.00" });
    await tell("dispute.opened", notified(charge, "open", 10_000));
    const { processor_clearing, tax_payable, partner_payable } = await balances(order.id);
    expect({ processor_clearing, tax_payable, partner_payable }).toEqual({ processor_clearing: -249 - 1_500, tax_payable: 0, partner_payable: 0 });
  });
  it("takes back what a line earned each of its partners, each in a journal of its own, and gives both back when it is won", async () => {
    const { order, line, charge } = await sale();
    // Who brought the seller gets a tenth of the same line.
    const recruiter = await addPartner(world, `mole-${randomUUID().slice(0, 8)}`, 1_000);
    const [own] = await em().find(Commission, { lineId: line.id });
    const second = { ...own!, id: randomUUID(), partnerId: recruiter.id, level: 2, rateBp: 1_000, minor: 1_211 };
    await em().insert(Commission, second);
    const about = { orderId: order.id, lineId: line.id, commissionId: second.id };
    await book(em(), "commission", about, commissionPostings(recruiter.id, 1_211, "EUR"), world.app.clock.now());
    const owed = async () => (await balances(order.id))["partner_payable"]!;
    expect(await owed()).toBe(-4_846 - 1_211);
    await tell("dispute.opened", notified(charge, "open"));
    expect(await owed()).toBe(0);
    expect((await em().find(Commission, { lineId: line.id })).map(({ minor, reversedMinor }) => minor - reversedMinor)).toEqual([0, 0]);
    await tell("dispute.closed", notified(charge, "won"));
    expect(await owed()).toBe(-4_846 - 1_211);
    expect((await em().find(Commission, { lineId: line.id })).map(({ reversedMinor }) => reversedMinor)).toEqual([0, 0]);
    const reversals = await em().find(Journal, { lineId: line.id, kind: "commission_reversal" });
    expect(new Set(reversals.map(({ commissionId }) => commissionId))).toEqual(new Set([own!.id, second.id]));
    // The same partner earns on one level of a line once.
    await expect(em().insert(Commission, { ...second, id: randomUUID() })).rejects.toThrow("commission_line_id_partner_id_level_key");
  });
  it("over a part of the charge takes back that part, its tax and its commission, and leaves the rest to be given back", async () => {
    const { order, charge } = await sale();
    await tell("dispute.opened", notified(charge, "open", 5_000));
    // 50.00 of 149.00 with 27.86 of tax in it: 9.35 of tax, 40.65 net; of the commission of 48.46 as much as of the net.
    expect(await balances(order.id)).toMatchObject({
      processor_clearing: 14_900 - 249 - 5_000 - 1_500,
      disputes: 4_065,
      tax_payable: -2_786 + 935,
      partner_payable: -4_846 + 1_626,
    });
    await expect(back(order.id, { amount: "99.01" })).rejects.toMatchObject({ faults: { amount: { code: "more_than_left", left: 9_900 } } });
    await back(order.id, { amount: "99.00" });
    expect(await balances(order.id)).toMatchObject({ processor_clearing: -249 - 1_500, tax_payable: 0, partner_payable: 0, commission_expense: 0 });
    // Won after all, the part stands again.
    await tell("dispute.closed", notified(charge, "won", 5_000));
    expect(await balances(order.id)).toMatchObject({ processor_clearing: 5_000 - 249 - 1_500, disputes: 0, tax_payable: -935 });
  });
  it("over more than is left of the charge takes what the bank takes, and the books say so", async () => {
    const { order, charge } = await sale();
    await back(order.id, { amount: "49.00" });
    await tell("dispute.opened", notified(charge, "open", 14_900));
    expect(await balances(order.id)).toMatchObject({ processor_clearing: -4_900 - 249 - 1_500, tax_payable: 0, partner_payable: 0 });
    const whole = await sale();
    await back(whole.order.id, { amount: "149.00" });
    await tell("dispute.opened", notified(whole.charge, "open", 14_900));
    expect(await balances(whole.order.id)).toMatchObject({ processor_clearing: -14_900 - 249 - 1_500, disputes: 14_900, tax_payable: 0 });
  });
  it("of a charge that is not ours, or of more than it was, changes nothing", async () => {
    const { charge } = await sale();
    expect((await tell("dispute.opened", { ...notified(charge, "open"), charge: "ch_other" })).outcome).toBe("no such charge");
    expect((await tell("dispute.opened", notified(charge, "open", 99_900))).outcome).toBe("amount differs, not applied");
    expect(await em().count(Dispute, { chargeId: charge.id })).toBe(0);
  });
  it("is opened at the card desk by a press beside its charge", async () => {
    const { charge } = await sale();
    const opened = await fetch(`${world.settings["CARD_DESK_URL"]}/charges/${charge.processorId}/dispute`, { method: "POST", redirect: "manual" });
    expect(opened.status).toBe(303);
    const page = await (await fetch(`${world.settings["CARD_DESK_URL"]}/`)).text();
    expect(page).toContain("The shop wins");
  });
});

describe("an order entered by hand", () => {
  const entered = (change: object = {}) =>
    enterByHand(world.app, em(), world.owner, {
      act: randomUUID(),
      launch: context.launch.slug,
      product: context.product.id,
      quantity: 1,
      amount: "149.00",
      how: "Bank transfer",
      ...buyer(),
      receipt: true,
      ...change,
    });
  it("takes a seat, its tax and its credit like any other, and its money lies in the bank", async () => {
    const { id } = await entered();
    await expect(back(id, { amount: "1.00" })).rejects.toMatchObject({ code: "paid_by_hand" });
    expect(await balances(id)).toEqual({ bank: 14_900, sales: -12_114, tax_payable: -2_786 });
    expect(await em().findOneOrFail(Order, { id })).toMatchObject({ source: "hand", checkoutId: null });
    await em().nativeUpdate(Product, { id: context.product.id }, { seats: 2 });
    await entered();
    await expect(entered()).rejects.toMatchObject({ code: "seats_taken" });
    await expect(entered({ amount: "much" })).rejects.toMatchObject({ faults: { amount: { code: "amount" } } });
  });
  it("sends its receipt, and again where it is asked for, once a minute", async () => {
    const person = buyer();
    const { id } = await entered(person);
    await withWorker(world, async () => {
      await until(async () => (await world.inbox(person.email)).length === 1);
      await Promise.all([1, 2, 3].map(() => sendReceiptAgain(world.app, em(), world.owner, id)));
      await until(async () => (await world.inbox(person.email)).length === 2);
      await advance(world, 1);
      await sendReceiptAgain(world.app, em(), world.owner, id);
      await until(async () => (await world.inbox(person.email)).length === 3);
    });
    expect((await world.inbox(person.email))[0]!.text).toContain("€149.00");
  });
});

describe("the list of orders", () => {
  it("is narrowed by name, number, product, state and day, and never by what is typed as a pattern", async () => {
    const { order, person } = await sale();
    const now = world.app.clock.now();
    const listed = async (filter: Parameters<typeof orderList>[1]) => (await orderList(em(), { launch: context.launch.id, ...filter }, now)).orders;
    expect((await listed({ search: person.email.toUpperCase() })).map(({ id }) => id)).toEqual([order.id]);
    expect((await listed({ search: String(order.number) })).map(({ id }) => id)).toEqual([order.id]);
    expect((await listed({ search: "workshop" })).length).toBe(1);
    expect(await listed({ search: "%" })).toEqual([]);
    expect(await listed({ state: "refunded" })).toEqual([]);
    await back(order.id, { amount: "10.00" });
    expect(await listed({ state: "refunded" })).toMatchObject([{ refundedMinor: 1_000 }]);
    expect(await listed({ state: "disputed" })).toEqual([]);
    expect(await listed({ from: "2020-01-01", until: "2020-01-02" })).toEqual([]);
  });
  it("is read to the last order in parts of any size, in the order of any column, each order once", async () => {
    const own = { launch: context.launch.id };
    const names = ["iris", "ada", "bo", "ada", "zoe", "cy"];
    for (const [n, name] of names.entries()) {
      const { order } = await sale();
      // Two were placed in the same instant, and two by people of one name: rows alike stand by their numbers.
      await em().execute("update sale_order set placed_at = ?::timestamptz + ? * interval '1 minute' where id = ?", [
        order.placedAt,
        n % 4,
        order.id,
      ]);
      await em().execute("update contact set first_name = ? where id = ?", [name, order.contactId]);
      if (n === 2)
        await em().execute("update order_line set gross_minor = gross_minor + 500, net_minor = net_minor + 500 where order_id = ?", [order.id]);
    }
    const now = new Date(world.app.clock.now().getTime() + 3_600_000);
    const value: Record<OrderSort, (row: OrderRow) => number | string> = {
      number: ({ number }) => number,
      placed: ({ placedAt }) => placedAt.getTime(),
      buyer: (row) => row.buyer,
      products: ({ lines }) => lines,
      partner: ({ partner }) => partner ?? "",
      source: ({ source }) => source,
      paid: ({ grossMinor }) => grossMinor,
    };
    for (const by of orderSorts) {
      const whole = async (down: boolean) => (await orderList(em(), own, now, { most: 100, by, down })).orders;
      const up = await whole(false);
      expect(up).toHaveLength(names.length);
      for (const [n, row] of up.entries()) {
        const before = up[n - 1];
        if (before && value[by](before) === value[by](row)) expect(before.number).toBeLessThan(row.number);
        else if (before) expect(value[by](before) < value[by](row)).toBe(true);
      }
      expect((await whole(true)).map(({ id }) => id)).toEqual(up.map(({ id }) => id).reverse());
      for (const most of [1, 2, 4]) {
        const parts: string[] = [];
        let after: string | undefined;
        do {
          const part = await orderList(em(), own, now, { most, by, down: false, after });
          expect(part.all).toBe(names.length);
          parts.push(...part.orders.map(({ id }) => id));
          after = part.next;
        } while (after !== undefined);
        expect(parts).toEqual(up.map(({ id }) => id));
      }
    }
    // An end of a page that nobody was given is none: the list begins anew.
    for (const after of ["", "{}", "[1]", '["x"]']) expect((await orderList(em(), own, now, { most: 2, after })).orders).toHaveLength(2);
  });
  it("knows a day as that of the launch's own zone", async () => {
    const { order } = await sale();
    // Half an hour after midnight in Lisbon's summer, before it in UTC.
    await em().execute("update sale_order set placed_at = '2026-06-30T23:30:00Z' where id = ?", [order.id]);
    const listed = async (from: string, until: string) =>
      (await orderList(em(), { launch: context.launch.id, from, until }, world.app.clock.now())).all;
    expect(context.plan.zone).toBe("Europe/Lisbon");
    expect(await listed("2026-07-01", "2026-07-01")).toBe(1);
    expect(await listed("2026-06-30", "2026-06-30")).toBe(0);
  });
});

import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { randomUUID } from "node:crypto";
import { orderNumber } from "../../src/core/money";
import { checkoutStart, couponRequest, type CouponRequest } from "../../src/core/offers";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { applyCoupon, startCheckout } from "../../src/server/checkout/checkout";
import { payCheckout } from "../../src/server/checkout/paying";
import { listCoupons, makeCoupon, stopCoupon } from "../../src/server/products/coupons";
import { codesOf } from "../../src/store/products/coupons";
import { answerPage } from "../../src/server/site/answer";
import { submitForm } from "../../src/server/site/submit";
import { recordTouch } from "../../src/server/partners/touch";
import { Charge, Checkout, EmailMessage, Order, OrderLine } from "../../src/store/tables";
import { orderEvents } from "../../src/store/checkout/orderEvents";
import { orderPostings } from "../../src/store/money/orderPostings";
import { addPartner, buyer, cardToken, clickBy, openLaunch, sendEmail, startWorld, visitor, type World } from "../support/world";

let world: World;
let context: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  context = await openLaunch(world, { offer: false });
});
afterAll(() => world.stop());

const em = () => world.app.fork();
let n = 0;
const coupon = async (change: Record<string, unknown> = {}): Promise<{ id: string; code: string }> => {
  const code = `WOOL-${(n += 1)}`;
  const request = couponRequest.parse({
    label: "Test",
    off: { kind: "percent", percent: "10" },
    codes: { kind: "shared", code, uses: null },
    products: null,
    from: "",
    until: "",
    zone: "Europe/Lisbon",
    oncePerPerson: false,
    ...change,
  });
  const { id } = await makeCoupon(em(), world.owner, request, world.app.clock.now());
  return { id, code: (await codesOf(em(), id, 100))[0]!.code };
};
const begin = async (typed = buyer()) => {
  const who = visitor();
  const { id } = await startCheckout(world.app, em(), context, checkoutStart.parse(typed), who);
  return {
    who,
    id,
    typed,
    apply: (code: string) => applyCoupon(world.app, em(), context, { checkout: id, code }, { ...who, from: id }),
    pay: async (shown?: number) =>
      payCheckout(world.app, em(), context, { ...typed, checkout: id, cardToken: await cardToken(world), waiver: "yes" as const, shown }, who),
    page: async (query = "") =>
      (await answerPage(world.app, { slug: context.launch.slug, path: "checkout", query: new URLSearchParams(query), visitorId: who.visitorId }))
        .body,
  };
};

describe("a code at the checkout", () => {
  it("is taken off before the tax, in the total, the charge, the line, the journal and the list of coupons", async () => {
    const { id, code } = await coupon({ off: { kind: "percent", percent: "12,5" } });
    const checkout = await begin();
    await checkout.apply(` ${code.toLowerCase()} `);
    const body = await checkout.page();
    expect(body).toMatch(new RegExp(`The Workshop</th>\\s*<td>€149\\.00</td>[\\s\\S]*Discount, code ${code}</th>\\s*<td>−€18\\.63</td>`));
    // 149.00 less 12.5 % (18.63) is 130.37, with 24.38 of tax in it.
    expect(body).toContain("€130.37");
    const charge = await checkout.pay(13_037);
    expect(charge).toMatchObject({ state: "succeeded", amountMinor: 13_037, coupon: code });
    const order = await em().findOneOrFail(Order, { checkoutId: checkout.id });
    expect(await em().findOneOrFail(OrderLine, { orderId: order.id })).toMatchObject({ grossMinor: 13_037, taxMinor: 2_438, discountMinor: 1_863 });
    expect((await orderEvents(em(), order.id)).map(({ what }) => what)).toContain(`The code ${code} was used`);
    expect((await orderPostings(em(), order.id)).reduce((sum, { minor }) => sum + minor, 0)).toBe(0);
    expect((await listCoupons(em())).find((one) => one.id === id)).toMatchObject({ used: 1, discount: { EUR: 1_863 }, off: "12.5 % off" });
    expect(await codesOf(em(), id, 100)).toMatchObject([{ code, order: String(order.number) }]);
  });
  it("comes with a link to any page, before the checkout is begun or after, and leaves the address", async () => {
    const { code } = await coupon({ off: { kind: "amount", amount: "20.00", currency: "EUR" } });
    const { visitorId, from } = visitor();
    const arrive = await answerPage(world.app, {
      slug: context.launch.slug,
      path: "",
      query: new URLSearchParams({ coupon: code, utm_source: "x" }),
      visitorId,
    });
    expect(arrive).toMatchObject({ status: 303, headers: { location: `/l/${context.launch.slug}?utm_source=x` } });
    const values = { ...buyer() };
    await submitForm(world.app, { slug: context.launch.slug, action: "start", values, visitorId, from });
    const { body } = await answerPage(world.app, { slug: context.launch.slug, path: "checkout", query: new URLSearchParams(), visitorId });
    expect(body).toContain("€129.00");
    const late = await begin();
    await late.page(`coupon=${code}`);
    expect(await late.page()).toContain("€129.00");
    await late.apply("");
    expect(await late.page()).toContain("€149.00");
  });
  it("that does not hold is refused at its field, and nothing is lost", async () => {
    const { code } = await coupon({ products: [context.product.id], off: { kind: "amount", amount: "900.00", currency: "EUR" } });
    const checkout = await begin();
    await expect(checkout.apply("NO-SUCH-CODE")).rejects.toMatchObject({ faults: { code: { code: "coupon", why: "unknown" } } });
    const { body, status } = await submitForm(world.app, {
      slug: context.launch.slug,
      action: "coupon",
      values: { checkout: checkout.id, code: "NO-SUCH" },
      visitorId: checkout.who.visitorId,
      from: "x",
    });
    expect(status).toBe(422);
    expect(body).toContain("This code is not known.");
    expect(body).toContain('value="NO-SUCH"');
    expect(body).toContain("€149.00");
    const other = await begin();
    await expect(applyCoupon(world.app, em(), context, { checkout: checkout.id, code }, other.who)).rejects.toMatchObject({ status: 404 });
  });
  it("that ended before the press charges nothing: the new total is shown first", async () => {
    const { id, code } = await coupon();
    const checkout = await begin();
    await checkout.apply(code);
    await stopCoupon(em(), world.owner, id, world.app.clock.now());
    await expect(checkout.pay(13_410)).rejects.toMatchObject({ code: "price_changed" });
    expect(await em().count(Charge, { checkoutId: checkout.id })).toBe(0);
    expect(await checkout.page()).toContain("This code has expired.");
    expect((await checkout.pay(14_900)).amountMinor).toBe(14_900);
  });
});

describe("a partner's code", () => {
  it("credits its partner before any link, says why, and stands on the receipt; but not where the partner buys", async () => {
    const [owner, other] = [await addPartner(world, "owns-a-code", 3_000), await addPartner(world, "has-a-link", 4_000)];
    const { code } = await coupon({ partner: owner.id });
    const checkout = await begin();
    await recordTouch(em(), context.launch.id, clickBy(other.code), checkout.who.visitorId, world.app.clock.now());
    await checkout.apply(code);
    await checkout.pay();
    const order = await em().findOneOrFail(Order, { checkoutId: checkout.id });
    expect(order).toMatchObject({ partnerId: owner.id, credit: { rule: "coupon", coupon: { code, credited: true } } });
    expect(order.credit.touches.map(({ rejected }) => rejected)).toEqual(["outranked_by_coupon"]);
    const [line] = await em().find(OrderLine, { orderId: order.id });
    const [earned] = await em().execute<{ rate_bp: number; partner_id: string }[]>("select rate_bp, partner_id from commission where line_id = ?", [
      line!.id,
    ]);
    expect(earned).toEqual({ rate_bp: 3_000, partner_id: owner.id });
    const [receipt] = await em().find(EmailMessage, { key: `receipt:${order.id}` });
    await sendEmail(world, receipt!.id);
    expect((await world.inbox(checkout.typed.email))[0]!.text).toContain(`Discount with the code ${code}: €14.90, before tax`);
    const own = await begin({ ...buyer(), email: owner.email });
    await own.apply(code);
    await own.pay();
    expect(await em().findOneOrFail(Order, { checkoutId: own.id })).toMatchObject({ partnerId: null, credit: { coupon: { credited: false } } });
  });
});

describe("the number of an order", () => {
  it("is not used up by orders that try things out: those have numbers of their own", async () => {
    const placed = async () => {
      const checkout = await begin();
      await checkout.pay();
      return (await em().findOneOrFail(Order, { checkoutId: checkout.id })).number;
    };
    const first = await placed();
    const tried = { id: randomUUID(), launchId: context.launch.id };
    const columns = "(id, launch_id, contact_id, person_id, currency, placed_at, country, source, credit, test)";
    await em().execute(
      `insert into sale_order ${columns} select ?, launch_id, contact_id, person_id, currency, placed_at, country, source, credit, true from sale_order where number = ?`,
      [tried.id, first],
    );
    const test = (await em().findOneOrFail(Order, { id: tried.id })).number;
    expect(test).toBeLessThan(0);
    expect(orderNumber(test)).toMatch(/^T\d+$/);
    expect(await placed()).toBe(first + 1);
  });
});

describe("a code that holds so often", () => {
  it("is used no more often, by twelve buyers who press at once, and once by a person", async () => {
    const { id, code } = await coupon({ codes: { kind: "shared", code: "RUSH-3", uses: 3 } });
    const buyers = await Promise.all(Array.from({ length: 12 }, () => begin()));
    for (const one of buyers) await one.apply(code);
    const ends = await Promise.all(
      buyers.map((one) =>
        one.pay(13_410).then(
          ({ amountMinor }) => amountMinor,
          (error: { code: string }) => error.code,
        ),
      ),
    );
    expect(ends.filter((end) => end === 13_410)).toHaveLength(3);
    expect(ends.filter((end) => end === "price_changed")).toHaveLength(9);
    expect((await listCoupons(em())).find((one) => one.id === id)!.used).toBe(3);

    const mine = await coupon({ oncePerPerson: true });
    const person = buyer();
    const first = await begin(person);
    await first.apply(mine.code);
    await first.pay();
    await expect((await begin(person)).apply(mine.code)).rejects.toMatchObject({
      faults: { code: { code: "coupon", why: "used_by_person" } },
    });
  });
  it("is one of many single codes, each for one order", async () => {
    const { id, code } = await coupon({ codes: { kind: "single", count: 40 } });
    const codes = await codesOf(em(), id, 100);
    expect(new Set(codes.map((one) => one.code)).size).toBe(40);
    const first = await begin();
    await first.apply(code);
    await first.pay();
    await expect((await begin()).apply(code)).rejects.toMatchObject({ faults: { code: { code: "coupon", why: "used_up" } } });
    const second = await begin();
    await second.apply(codes.find((one) => one.code !== code)!.code);
    expect((await second.pay()).amountMinor).toBe(13_410);
    expect((await em().findOneOrFail(Checkout, { id: second.id })).coupon).not.toBe(code);
  });
});

describe("making a coupon", () => {
  it("says at the field what is wrong, and is the desk's alone", async () => {
    const { code } = await coupon();
    const whole = (change: Partial<CouponRequest>) => makeCoupon(em(), world.owner, { ...good, ...change }, world.app.clock.now());
    const good = couponRequest.parse({
      label: "x",
      off: { kind: "percent", percent: "5" },
      codes: { kind: "shared", code: "NEW-1", uses: null },
      products: null,
      from: "",
      until: "",
      zone: "Europe/Lisbon",
      oncePerPerson: true,
    });
    await expect(whole({ codes: { kind: "shared", code, uses: null } })).rejects.toMatchObject({
      faults: { "codes.code": { code: "code_taken" } },
    });
    await expect(whole({ off: { kind: "percent", percent: "0" } })).rejects.toMatchObject({
      faults: { "off.percent": { code: "percent_zero" } },
    });
    await expect(whole({ off: { kind: "amount", amount: "x", currency: "EUR" } })).rejects.toMatchObject({
      faults: { "off.amount": { code: "amount" } },
    });
    await expect(whole({ from: "2027-01-02T00:00", until: "2027-01-01T00:00" })).rejects.toMatchObject({
      faults: { until: { code: "ends_before_begin" } },
    });
    await expect(makeCoupon(em(), { ...world.owner, role: "viewer" }, good, new Date())).rejects.toMatchObject({ status: 403 });
    // All of it may be taken off, but no more.
    expect(couponRequest.safeParse({ ...good, off: { kind: "percent", percent: "100" } }).success).toBe(true);
    for (const wrong of [
      { off: { kind: "percent", percent: "100.5" } },
      { codes: { kind: "shared", code: "a b", uses: null } },
      { codes: { kind: "single", count: 0 } },
    ])
      expect(couponRequest.safeParse({ ...good, ...wrong }).success).toBe(false);
  });
});

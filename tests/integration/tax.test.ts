import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { checkoutStart, taxRequest } from "../../src/core/offers";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { startCheckout } from "../../src/server/checkout/checkout";
import { payCheckout } from "../../src/server/checkout/paying";
import { changeTaxTable, ensureTaxTable, taxTable } from "../../src/server/products/taxTable";
import { answerPage } from "../../src/server/site/answer";
import { submitForm } from "../../src/server/site/submit";
import { Checkout, Order, OrderLine } from "../../src/store/tables";
import { orderPostings } from "../../src/store/money/orderPostings";
import { buy, buyer, cardToken, openLaunch, decide, startWorld, visitor, type World } from "../support/world";

let world: World;
let context: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  context = await openLaunch(world);
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const pay = async (typed: Record<string, string>, card = "9990000000000003", acceptLanguage = "de-DE,de;q=0.9"): Promise<Order> => {
  const who = visitor();
  const request = checkoutStart.parse({ ...buyer("DE"), ...typed });
  const { id } = await startCheckout(world.app, em(), context, request, { ...who, acceptLanguage });
  const token = await cardToken(world, card);
  await payCheckout(world.app, em(), context, { ...request, checkout: id, cardToken: token, waiver: "yes" as const }, who);
  return em().findOneOrFail(Order, { checkoutId: id });
};

describe("a business of another member state", () => {
  it("pays the net, at the checkout and for offers after it, and the books hold no tax of it", async () => {
    const order = await pay({ vatNumber: "de 123 456 788" });
    expect(order).toMatchObject({ vatNumber: "DE123456788", reverseCharge: true });
    await decide(world, context, order.id, context.steps[0]!.id, "yes");
    const lines = await em().find(OrderLine, { orderId: order.id }, { orderBy: { role: 1 } });
    // 149.00 and 67.00 with 19 % in them.
    expect(lines.map(({ netMinor, taxMinor, grossMinor, rateBp }) => [netMinor, taxMinor, grossMinor, rateBp])).toEqual([
      [12_521, 0, 12_521, 0],
      [5_630, 0, 5_630, 0],
    ]);
    const postings = await orderPostings(em(), order.id);
    expect(postings.reduce((sum, { minor }) => sum + minor, 0)).toBe(0);
    expect(postings.some(({ account }) => account === "tax_payable")).toBe(false);
  });
  it("is not one at home, and a wrong number is said at the field with all that was typed", async () => {
    const home = await pay({ country: "PT", vatNumber: "PT123456789" });
    expect(home).toMatchObject({ reverseCharge: false, vatNumber: "PT123456789" });
    expect((await em().findOneOrFail(OrderLine, { orderId: home.id })).taxMinor).toBe(2_786);
    const { visitorId, from } = visitor();
    const values = { email: "ada@wool.example", firstName: "Ada", country: "DE", vatNumber: "DE12" };
    const { status, body } = await submitForm(world.app, { slug: context.launch.slug, action: "start", values, visitorId, from });
    expect(status).toBe(422);
    expect(body).toContain("This is no VAT number of that country");
    expect(body).toContain('value="DE12"');
    expect(body).toContain('value="ada@wool.example"');
  });
  it("reads on the page that no tax is charged", async () => {
    const { visitorId, from } = visitor();
    const values = { email: "b@wool.example", firstName: "B", country: "DE", vatNumber: "DE123456788" };
    await submitForm(world.app, { slug: context.launch.slug, action: "start", values, visitorId, from });
    const { body } = await answerPage(world.app, { slug: context.launch.slug, path: "checkout", query: new URLSearchParams(), visitorId });
    expect(body).toContain("your business accounts for it (reverse charge)");
    expect(body).toContain("€125.21");
  });
});

describe("where a buyer is", () => {
  it("is kept with the order: what they said, their bank, and their browser", async () => {
    expect((await pay({}, "9990000000000052")).evidence).toEqual([
      { kind: "billing", country: "DE" },
      { kind: "card", country: "DE" },
      { kind: "browser", country: "DE" },
    ]);
    expect((await pay({}, "9990000000000003", "en")).evidence).toEqual([
      { kind: "billing", country: "DE" },
      { kind: "card", country: "PT" },
    ]);
  });
});

describe("a region with a rate of its own", () => {
  it("is asked for where its country has one, and taxes the order and the offers after it", async () => {
    await changeTaxTable(
      em(),
      world.owner,
      taxRequest.parse({ do: "set", country: "DE", region: "hh", taxClass: "standard", rate: "7", from: "2020-01-01" }),
    );
    const who = visitor();
    const request = checkoutStart.parse(buyer("DE"));
    const { id } = await startCheckout(world.app, em(), context, request, who);
    const page = () => answerPage(world.app, { slug: context.launch.slug, path: "checkout", query: new URLSearchParams(), visitorId: who.visitorId });
    expect((await page()).body).toContain('<option value="HH">HH</option>');
    const choose = (region: string) =>
      submitForm(world.app, { slug: context.launch.slug, action: "choose", values: { checkout: id, region }, ...who });
    await choose("HH");
    expect((await page()).body).toContain("incl. VAT, 7 %");
    // A region of another country, or of none, is the rest of this one.
    await choose("20");
    expect((await page()).body).toContain("incl. VAT, 19 %");
    await choose("HH");
    await payCheckout(world.app, em(), context, { ...request, checkout: id, cardToken: await cardToken(world), waiver: "yes" as const }, who);
    const order = await em().findOneOrFail(Order, { checkoutId: id });
    expect(order.region).toBe("HH");
    await decide(world, context, order.id, context.steps[0]!.id, "yes");
    expect((await em().find(OrderLine, { orderId: order.id })).map(({ rateBp }) => rateBp)).toEqual([700, 700]);
    // Who goes on from another country is not in that region any more.
    const other = visitor();
    const { id: moved } = await startCheckout(world.app, em(), context, request, other);
    await submitForm(world.app, { slug: context.launch.slug, action: "choose", values: { checkout: moved, region: "HH" }, ...other });
    await startCheckout(world.app, em(), context, checkoutStart.parse({ ...request, vatNumber: "", country: "PT" }), other);
    expect((await em().findOneOrFail(Checkout, { id: moved })).region).toBe("");
    await changeTaxTable(
      em(),
      world.owner,
      taxRequest.parse({ do: "drop", country: "DE", region: "HH", taxClass: "standard", rate: "", from: "2020-01-01" }),
    );
  });
});

describe("the table of taxes", () => {
  it("is shipped into an empty one only, changed from a day on, and refuses what is no rate", async () => {
    const before = await taxTable(em());
    await ensureTaxTable(em());
    expect(await taxTable(em())).toEqual(before);
    const set = taxRequest.parse({ do: "set", country: "PT", taxClass: "standard", rate: "21,5", from: "2020-06-01" });
    expect((await changeTaxTable(em(), world.owner, set)).filter(({ country }) => country === "PT")).toMatchObject([
      { rateBp: 2_150, from: "2020-06-01" },
      { rateBp: 2_300 },
    ]);
    const { order } = await buy(world, context);
    expect((await em().findOneOrFail(OrderLine, { orderId: order!.id })).rateBp).toBe(2_150);
    expect(await changeTaxTable(em(), world.owner, { ...set, do: "drop" })).toEqual(before);
    for (const wrong of [{ rate: "a lot" }, { rate: "123" }, { country: "Portugal" }, { from: "soon" }])
      expect(taxRequest.safeParse({ ...set, ...wrong }).success).toBe(false);
    await expect(changeTaxTable(em(), world.owner, { ...set, from: "2026-13-40" })).rejects.toMatchObject({
      faults: { from: { code: "no_such_day" } },
    });
    await expect(changeTaxTable(em(), { ...world.owner, role: "viewer" }, set)).rejects.toMatchObject({ status: 403 });
    await em().execute("delete from tax_rate");
    await ensureTaxTable(em());
    expect((await taxTable(em())).length).toBeGreaterThan(40);
  });
});

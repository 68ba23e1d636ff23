import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { checkoutStart, taxRequest } from "../../src/core/offers";
import type { LaunchBundle } from "../../src/server/launch/bundle";
import { startCheckout } from "../../src/server/offers/checkout";
import { payCheckout } from "../../src/server/offers/paying";
import { decideOffer } from "../../src/server/offers/offerPath";
import { changeTaxTable, ensureTaxTable, taxTable } from "../../src/server/offers/taxTable";
import { answerPage } from "../../src/server/pages/answer";
import { submitForm } from "../../src/server/pages/submit";
import { Order, OrderLine } from "../../src/store/entities";
import { orderPostings } from "../../src/store/reports/orderPostings";
import { buy, buyer, cardToken, openLaunch, startWorld, visitor, type World } from "../support/world";

let world: World;
let bundle: LaunchBundle;
beforeAll(async () => {
  world = await startWorld();
  bundle = await openLaunch(world);
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const pay = async (typed: Record<string, string>, card = "9990000000000003", acceptLanguage = "de-DE,de;q=0.9"): Promise<Order> => {
  const who = visitor();
  const request = checkoutStart.parse({ ...buyer("DE"), ...typed });
  const { id } = await startCheckout(world.app, em(), bundle, request, { ...who, acceptLanguage });
  const token = await cardToken(world, card);
  await payCheckout(world.app, em(), bundle, { ...request, checkout: id, cardToken: token, waiver: "yes" as const }, who);
  return em().findOneOrFail(Order, { checkoutId: id });
};

describe("a business of another member state", () => {
  it("pays the net, at the checkout and for offers after it, and the books hold no tax of it", async () => {
    const order = await pay({ vatNumber: "de 123 456 789" });
    expect(order).toMatchObject({ vatNumber: "DE123456789", reverseCharge: true });
    await decideOffer(world.app, em(), bundle, order.id, bundle.steps[0]!.id, "yes");
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
    const { status, body } = await submitForm(world.app, { slug: bundle.launch.slug, action: "start", values, visitorId, from });
    expect(status).toBe(422);
    expect(body).toContain("This is not the shape of a VAT number of that country.");
    expect(body).toContain('value="DE12"');
    expect(body).toContain('value="ada@wool.example"');
  });
  it("reads on the page that no tax is charged", async () => {
    const { visitorId, from } = visitor();
    const values = { email: "b@wool.example", firstName: "B", country: "DE", vatNumber: "DE123456789" };
    await submitForm(world.app, { slug: bundle.launch.slug, action: "start", values, visitorId, from });
    const { body } = await answerPage(world.app, { slug: bundle.launch.slug, path: "checkout", query: new URLSearchParams(), visitorId });
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
    const { order } = await buy(world, bundle);
    expect((await em().findOneOrFail(OrderLine, { orderId: order!.id })).rateBp).toBe(2_150);
    expect(await changeTaxTable(em(), world.owner, { ...set, do: "drop" })).toEqual(before);
    for (const wrong of [{ rate: "a lot" }, { rate: "123" }, { country: "Portugal" }, { from: "soon" }])
      expect(taxRequest.safeParse({ ...set, ...wrong }).success).toBe(false);
    await expect(changeTaxTable(em(), world.owner, { ...set, from: "2026-13-40" })).rejects.toMatchObject({
      fields: { from: expect.any(String) as string },
    });
    await expect(changeTaxTable(em(), { ...world.owner, role: "viewer" }, set)).rejects.toMatchObject({ status: 403 });
    await em().execute("delete from tax_rate");
    await ensureTaxTable(em());
    expect((await taxTable(em())).length).toBeGreaterThan(40);
  });
});

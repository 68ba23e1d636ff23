import { launchesOf } from "../../src/server/launch/launchCache";
import { countersFor } from "../../src/server/offers/soldCounters";
import { randomUUID } from "node:crypto";
import pg from "pg";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { productRequest } from "../../src/core/offers";
import { signLink } from "../../src/server/platform/access/signedLink";
import { loadLaunch, type LaunchContext } from "../../src/server/launch/launchContext";
import { startCheckout } from "../../src/server/checkout/checkout";
import { payCheckout } from "../../src/server/checkout/paying";
import { listProducts, saveProduct } from "../../src/server/products/products";
import { nextAddress } from "../../src/server/checkout/offerPath";
import { refreshCharge } from "../../src/server/payments/charging";
import { libraryOf } from "../../src/server/delivery/buyers";
import { publishPage } from "../../src/server/pages/publish";
import { Charge, Contact, Order, OrderLine, Product } from "../../src/store/tables";
import { addStep, buy, buyer, cards, cardToken, look, openLaunch, decide, startWorld, visitor, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const change = async (context: LaunchContext, product: string, fields: Partial<Product>): Promise<LaunchContext> => {
  await em().nativeUpdate(Product, { id: product }, fields);
  launchesOf(world.app).clear();
  return (await loadLaunch(em(), { id: context.launch.id }))!;
};
const coded = async (work: Promise<unknown>): Promise<string> =>
  work.then(
    () => "done",
    (error: { code?: string; message?: string }) => error.code ?? `failed: ${error.message}`,
  );
const withOffers = async (prices: string[]): Promise<LaunchContext> => {
  const bare = await openLaunch(world, { offer: false });
  for (const [index, price] of prices.entries())
    await addStep(world, bare.launch.slug, { product: { name: `Extra ${index + 1}`, price }, page: { template: "offer-bill" } });
  for (const { page } of (await loadLaunch(em(), { id: bare.launch.id }))!.steps)
    await publishPage(em(), world.owner, page.id, "Marram & Purl", world.app.clock.now());
  launchesOf(world.app).clear();
  return (await loadLaunch(em(), { id: bare.launch.id }))!;
};

describe("what there is only so much of", () => {
  it.each(["a product", "a launch"])("is never oversold, of %s: 64 buyers press at once for 7, and 7 have it", async (of) => {
    const first = await openLaunch(world, { offer: false, settings: of === "a launch" ? { seats: 7 } : {} });
    const context = of === "a launch" ? first : await change(first, first.product.id, { seats: 7 });
    const buyers = await Promise.all(
      Array.from({ length: 64 }, async (_, n) => {
        // Each from an address of their own, as tries from one are limited.
        const [who, person] = [{ ...visitor(), from: `10.0.${of.length}.${n}` }, buyer()];
        const { id } = await startCheckout(world.app, em(), context, person, who);
        return { who, request: { ...person, checkout: id, cardToken: await cardToken(world), waiver: "yes" as const } };
      }),
    );
    const ends = await Promise.all(buyers.map(({ who, request }) => coded(payCheckout(world.app, em(), context, request, who))));
    expect(ends.filter((end) => end === "done")).toHaveLength(7);
    expect(new Set(ends)).toEqual(new Set(["done", "seats_taken"]));
    expect(await em().count(Order, { launchId: context.launch.id })).toBe(7);
    expect(await em().count(Charge, { state: "pending" })).toBe(0);
    // The database's counter holds what a count finds.
    expect(await em().execute("select n from seats_taken where launch_id = ?", [context.launch.id])).toEqual([{ n: "7" }]);
  });
  it("is what one person may have, also where they have it from a bundle; and a bundle holds no bundles", async () => {
    const first = await withOffers(["20.00"]);
    const part = first.steps[0]!.product;
    const whole = {
      ...(await listProducts(em(), { now: world.app.clock.now() })).find(({ id }) => id === first.product.id)!,
      price: "149.00",
      prices: {},
    };
    const save = async (contents: string[]) => {
      const { rowVersion: version } = await em().findOneOrFail(Product, { id: whole.id });
      return saveProduct(em(), world.owner, whole.id, productRequest.parse({ ...whole, version, kind: "bundle", contents }), world.app.clock.now());
    };
    for (const wrong of [[whole.id], [randomUUID()]])
      await expect(save(wrong)).rejects.toMatchObject({ faults: { contents: { code: "nested_bundle" } } });
    await save([part.id]);
    const context = await change(first, part.id, { limitPerPerson: 1 });
    const [who, person] = [visitor(), buyer()];
    const { order } = await buy(world, context, who, person);
    expect(await nextAddress(em(), context, order!)).toBe(context.pages.find(({ kind }) => kind === "thanks")!.slug);
    const other = visitor();
    await startCheckout(world.app, em(), context, buyer(), other);
    expect((await look(world, context, "checkout", other.visitorId)).body).toContain(`with ${part.name}`);

    // Of what can be read at once, a bundle asks what its parts would ask (Directive 2011/83/EU, art. 16 (m)).
    const waiver = async () => (await look(world, context, "checkout", other.visitorId)).body.includes('name="waiver"');
    await em().nativeUpdate(Product, { id: part.id }, { kind: "service" });
    expect(await waiver()).toBe(false);
    await em().nativeUpdate(Product, { id: part.id }, { kind: "library" });
    // Nothing is delivered by itself: nobody gives up a right for access that they do not get.
    expect(await waiver()).toBe(false);
    await em().nativeUpdate(Product, { id: part.id }, { accessAtOnce: true });
    expect(await waiver()).toBe(true);

    // What it held when it was sold stays so: for the limit, on the receipt, and in the library.
    await save([]);
    const emptied = (await loadLaunch(em(), { id: context.launch.id }))!;
    expect(await nextAddress(em(), emptied, order!)).toBe(context.pages.find(({ kind }) => kind === "thanks")!.slug);
    expect(await em().find(OrderLine, { orderId: order!.id })).toMatchObject([{ contents: [{ id: part.id, name: part.name }] }]);
    const contact = await em().findOneOrFail(Contact, { id: order!.contactId });
    expect((await libraryOf(world.app, em(), contact))[0]!.lines[0]!.contents).toBe(`with ${part.name}`);
    const o = signLink(world.app.config.INKBELL_SECRET, "order", order!.id, world.app.clock.now(), 1);
    expect((await look(world, emptied, "thank-you", who.visitorId, { o })).body).toContain(`with ${part.name}`);
  });
  it("is given back when a card is refused", async () => {
    const first = await openLaunch(world, { offer: false });
    const context = await change(first, first.product.id, { seats: 1 });
    expect((await buy(world, context, visitor(), buyer(), cards.poor)).charge.state).toBe("declined");
    expect((await buy(world, context)).charge.state).toBe("succeeded");
    expect(await coded(buy(world, context))).toBe("seats_taken");
  });
  it("is passed over on the path when it is gone, but not for whoever is paying it", async () => {
    const first = await withOffers(["20.00", "30.00"]);
    const [rare, plain] = first.steps as [LaunchContext["steps"][0], LaunchContext["steps"][0]];
    const context = await change(first, rare.product.id, { seats: 1 });
    const { charge: asked } = await buy(world, context, visitor(), buyer(), cards.asks);
    await fetch(asked.challengeUrl!, { method: "POST", body: "answer=yes", redirect: "manual" });
    await refreshCharge(world.app, asked.id);
    const mine = await em().findOneOrFail(Order, { checkoutId: asked.checkoutId });
    const { order: theirs } = await buy(world, context);
    expect(await nextAddress(em(), context, theirs!)).toBe(rare.page.slug);
    const open = await decide(world, context, mine.id, rare.id, "yes");
    expect(open!.state).toBe("challenge");
    expect(await nextAddress(em(), context, mine)).toBe(rare.page.slug);
    expect(await nextAddress(em(), context, theirs!)).toBe(plain.page.slug);
    await fetch(open!.challengeUrl!, { method: "POST", body: "answer=no", redirect: "manual" });
    await refreshCharge(world.app, open!.id);
    expect(await nextAddress(em(), context, theirs!)).toBe(rare.page.slug);
    const both = await Promise.all([mine, theirs!].map(({ id }) => coded(decide(world, context, id, rare.id, "yes"))));
    expect(both).toContain("done");
    expect(await em().count(Charge, { stepId: rare.id, state: { $in: ["succeeded", "challenge", "pending"] } })).toBe(1);
  });
});

describe("what other processes hear of sales", () => {
  it("is one word for those of the same moment, and another for those that come after", async () => {
    const context = await openLaunch(world, { offer: false, settings: { seats: 50 } });
    const other = new pg.Client({ connectionString: world.settings["DATABASE_URL"] });
    await other.connect();
    let heard = 0;
    other.on("notification", ({ payload }) => (heard += payload === context.launch.id ? 1 : 0));
    await other.query("listen sold");
    const tell = async (times: number) => {
      await Promise.all(Array.from({ length: times }, () => countersFor(world.app).notify(context)));
      await other.query("select 1");
      return heard;
    };
    expect(await tell(30)).toBe(1);
    expect(await tell(1)).toBe(2);
    // What comes while a word is on its way is told by the next one.
    const first = countersFor(world.app).notify(context);
    await Promise.resolve();
    await Promise.resolve();
    await Promise.all([first, tell(10)]);
    expect(heard).toBe(4);
    await other.end();
  });
});

describe("a product", () => {
  it("that is not on sale is refused at the checkout and passed over on the path", async () => {
    const first = await withOffers(["20.00"]);
    const off = await change(first, first.steps[0]!.product.id, { onSale: false });
    const { order } = await buy(world, off);
    expect(await nextAddress(em(), off, order!)).toBe("thank-you");
    const none = await change(off, off.product.id, { onSale: false });
    expect(await coded(buy(world, none))).toBe("not_on_sale");
  });
  it("that one person may have once is sold to them once, and not offered again", async () => {
    const first = await withOffers(["20.00"]);
    const context = await change(await change(first, first.product.id, { limitPerPerson: 2 }), first.steps[0]!.product.id, { limitPerPerson: 1 });
    const person = buyer();
    const { order } = await buy(world, context, visitor(), person);
    await decide(world, context, order!.id, context.steps[0]!.id, "yes");
    const { order: again } = await buy(world, context, visitor(), person);
    expect(await nextAddress(em(), context, again!)).toBe("thank-you");
    expect(await coded(buy(world, context, visitor(), person))).toBe("limit_reached");
    expect(await nextAddress(em(), context, (await buy(world, context)).order!)).toBe(context.steps[0]!.page.slug);
  });
});

import { launchesOf } from "../../src/server/launch/launchCache";
import { loadLaunch } from "../../src/server/launch/launchContext";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { builder, idsFrom, pageOf } from "../../src/core/pages";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { offersView } from "../../src/server/offers/offersView";
import { answerPage } from "../../src/server/site/answer";
import { addCheckout } from "../../src/server/offers/addCheckout";
import { publishPage, saveDraft } from "../../src/server/pages/publish";
import { submitForm } from "../../src/server/site/submit";
import { tryingOut, tryLink } from "../../src/server/site/tryOut";
import { Contact, Order, Page } from "../../src/store/tables";
import { ledgerBalances } from "../../src/store/money/ledgerBalances";
import { launchFigures } from "../../src/store/launch/launchFigures";
import { orderList } from "../../src/store/checkout/orderList";
import { stageFunnel } from "../../src/store/leaks/stageFunnel";
import { addStep, buy, buyer, cardToken, deskCharges, openLaunch, startWorld, until, withWorker, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());
const em = () => world.app.fork();
const b = builder(idsFrom("b"));

/** A browser of somebody at the desk who walks a launch in test mode. */
const walker = async (context: LaunchContext) => {
  const link = tryLink(world.app, context.launch.id);
  const get = (path: string, query: Record<string, string> = {}) =>
    answerPage(world.app, { slug: context.launch.slug, path, query: new URLSearchParams(query), tryLink: link });
  const post = (action: string, values: Record<string, string>) =>
    submitForm(world.app, { slug: context.launch.slug, action, values, visitorId: "10000000-0000-4000-8000-000000000000", from: "x", tryLink: link });
  return { link, get, post, who: (await tryingOut(world.app, context.launch.slug, link))!.visitorId };
};
type Walker = Awaited<ReturnType<typeof walker>>;

const pay = async ({ get, post }: Walker, person = buyer()) => {
  expect((await post("start", person)).status).toBe(303);
  const { body } = await get("checkout");
  const checkout = /name="checkout" value="([^"]+)"/.exec(body)![1]!;
  const paid = await post("pay", { ...person, checkout, cardToken: await cardToken(world), waiver: "yes" });
  return { paid, body, person };
};
/** Goes where an answer leads. */
const follow = ({ get }: Walker, { headers }: { headers: Record<string, string> }) => {
  const to = new URL(headers["location"]!, "http://x");
  return get(to.pathname.split("/").slice(3).join("/"), Object.fromEntries(to.searchParams));
};
const orderLinkOf = (location: string) => new URL(location, "http://x").searchParams.get("o")!;

describe("a launch tried out", () => {
  it("is walked before anything of it is published and before its doors open, and says so on every page", async () => {
    const context = await openLaunch(world, { publish: false, opensIn: 24, closesIn: 72 });
    const walk = await walker(context);
    const checkout = await walk.get("checkout");
    expect(checkout.status).toBe(200);
    expect(checkout.body).toContain("Test mode.");
    expect((await answerPage(world.app, { slug: context.launch.slug, path: "checkout", query: new URLSearchParams() })).body).not.toContain(
      "Test mode.",
    );
    const { paid } = await pay(walk);
    const location = String(paid.headers["location"]);
    expect(location).toContain("/offer?o=");
    expect((await walk.get("offer", { o: orderLinkOf(location) })).body).toContain("One click charges your card ending in 0003");
  });
  it("shows drafts, and not what the public sees", async () => {
    const context = await openLaunch(world);
    const page = await em().findOneOrFail(Page, { launchId: context.launch.id, key: "checkout" });
    await saveDraft(
      em(),
      world.owner,
      page.id,
      pageOf([b.section([b.title("Only a draft yet"), b.made("checkout", {})])]),
      page.version,
      world.app.clock.now(),
    );
    expect((await (await walker(context)).get("checkout")).body).toContain("Only a draft yet");
    expect((await answerPage(world.app, { slug: context.launch.slug, path: "checkout", query: new URLSearchParams() })).body).not.toContain(
      "Only a draft yet",
    );
  });
  it("counts nowhere: no stage, no figure, no journal, no seat, no person of that address", async () => {
    const context = await openLaunch(world, { settings: { seats: 1 } });
    const person = buyer();
    const now = () => world.app.clock.now();
    const figures = async () => ({
      ledger: await ledgerBalances(em(), now()),
      launch: (await launchFigures(em(), { now: world.app.clock.now() })).get(context.launch.id),
      funnel: await stageFunnel(em(), { launchId: context.launch.id, now: world.app.clock.now() }),
      orders: (await orderList(em(), { launch: context.launch.id }, now())).all,
    });
    const before = await figures();
    for (let n = 0; n < 3; n += 1) await pay(await walker(context), person);
    await world.app.events.flush();
    expect(await figures()).toEqual(before);
    expect((await orderList(em(), { launch: context.launch.id, state: "test" }, now())).all).toBe(3);
    expect(await em().count(Contact, { email: person.email, test: false })).toBe(0);
    // The one seat is still there, for a buyer of the very same address.
    const { order } = await buy(world, context, undefined, person);
    expect(order).toMatchObject({ test: false });
    expect(await em().find(Contact, { email: person.email })).toHaveLength(2);
  });
  it("sends its receipts to whoever tries, marked as tests", async () => {
    const context = await openLaunch(world, { offer: false });
    const walk = await walker(context);
    const { paid, person } = await pay(walk);
    await follow(walk, paid);
    await withWorker(world, async () => {
      const [email] = await until(async () => {
        const emails = await world.inbox(person.email);
        return emails.length > 0 ? emails : undefined;
      });
      expect(email!.subject).toContain("[Test]");
      expect(email!.text).toContain("nothing was charged");
    });
  });
  it("goes to the processor's account for tests, and its ways fill the list as they are walked to their end", async () => {
    const context = await openLaunch(world);
    const tried = async () => (await offersView(em(), context, new Date(world.app.clock.now().getTime() + 1_000))).tried;
    expect(await tried()).toEqual({ orders: 0, walked: [] });
    const step = context.savedPath.path.steps[0]!.id;
    for (const decision of ["no", "yes"]) {
      const walk = await walker(context);
      const { paid } = await pay(walk);
      const o = orderLinkOf(String(paid.headers["location"]));
      const went = await walk.post("decide", { o, step, decision });
      await follow(walk, went);
    }
    expect(await tried()).toMatchObject({ orders: 2, walked: expect.arrayContaining([{ [step]: "yes" }, { [step]: "no" }]) as unknown });
    const keys = (
      await em().execute<{ key: string }[]>("select g.idempotency_key as key from charge g join checkout k on k.id = g.checkout_id where k.test")
    ).map(({ key }) => key);
    const page = await (await fetch(`${world.settings["CARD_DESK_URL"]}/`)).text();
    const mine = (await deskCharges(world)).filter(({ idempotency_key }) => keys.includes(idempotency_key));
    expect(mine.length).toBeGreaterThan(2);
    for (const { id } of mine) expect(page).toMatch(new RegExp(`EUR, test</td>[^]*?${id}`));
  });
  it("needs a link of the desk that is signed for this launch and has not expired", async () => {
    const [one, other] = [await openLaunch(world, { publish: false }), await openLaunch(world)];
    const link = tryLink(world.app, one.launch.id);
    expect(await tryingOut(world.app, one.launch.slug, link)).toBeDefined();
    expect(await tryingOut(world.app, other.launch.slug, link)).toBeUndefined();
    expect(await tryingOut(world.app, one.launch.slug, `${link}x`)).toBeUndefined();
    const start = world.app.clock.now();
    await world.app.clock.setTo(em(), new Date(start.getTime() + 25 * 3_600_000));
    expect(await tryingOut(world.app, one.launch.slug, link)).toBeUndefined();
    await world.app.clock.setTo(em(), start);
  });
  it("is kept by a cookie for its launch alone, and ended by an empty link", async () => {
    const context = await openLaunch(world);
    const link = tryLink(world.app, context.launch.id);
    const ask = (value: string) => answerPage(world.app, { slug: context.launch.slug, path: "checkout", query: new URLSearchParams({ try: value }) });
    expect((await ask(link)).cookies![0]).toMatch(new RegExp(`^ib_t=${link}; Path=/l/${context.launch.slug}; HttpOnly`));
    expect((await ask("")).cookies![0]).toContain("Max-Age=0");
    expect((await ask("forged")).cookies![0]).toContain("ib_t=; ");
    expect(await em().count(Order, { launchId: context.launch.id })).toBe(0);
  });
});

describe("a launch that only collects addresses", () => {
  it("gets a checkout and an offer path while its opt-in keeps its address and goes on", async () => {
    const context = await openLaunch(world, { offer: false, request: { shape: "list" } });
    const who = buyer();
    await expect(buy(world, context, undefined, who)).rejects.toMatchObject({ status: 409 });
    const add = (product?: { name: string; price: string }) => addCheckout(em(), world.owner, context.launch.slug, product, world.app.clock.now());
    // It was begun without a product: what is sold, and for how much, is asked now.
    await expect(add()).rejects.toMatchObject({ faults: { name: { code: "product_name_missing" } } });
    await expect(add({ name: "The Workshop", price: "0" })).rejects.toMatchObject({ faults: { price: { code: "above_zero" } } });
    await add({ name: "The Workshop", price: "149.00" });
    await add();
    launchesOf(world.app).clear();
    const withIt = (await loadLaunch(em(), { id: context.launch.id }))!;
    expect(withIt.product).toMatchObject({ name: "The Workshop", priceMinor: 14_900, onSale: true });
    expect(withIt.launch.settings.emails.map(({ id }) => id)).toEqual(["doors-open", "last-day", "last-hour"]);
    expect(withIt.launch.settings.countdowns[0]!.covers.pages).toEqual(["optin", "sales", "checkout"]);
    expect(JSON.stringify(withIt.pages.find(({ kind }) => kind === "optin")!.draft)).toContain("See The Workshop");
    const home = () => answerPage(world.app, { slug: context.launch.slug, path: "", query: new URLSearchParams() });
    const optIn = (await home()).body;
    expect(optIn).toContain('name="consent"');
    const pages = await em().find(Page, { launchId: context.launch.id, kind: { $in: ["sales", "checkout", "thanks"] } });
    expect(pages.map(({ kind, published }) => [kind, published]).sort()).toEqual([
      ["checkout", null],
      ["sales", null],
      ["thanks", null],
    ]);
    for (const { id } of pages) await publishPage(em(), world.owner, id, "Marram & Purl", world.app.clock.now());
    const withCheckout = await addStep(world, context.launch.slug, {
      product: { name: "The Library", price: "67.00" },
      page: { template: "offer-bill" },
    });
    const { order } = await buy(world, withCheckout);
    expect(order).toMatchObject({ pathVersion: 1 });
    expect((await home()).body).toContain('name="consent"');
  });
});

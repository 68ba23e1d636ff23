import { launchesOf } from "../../src/server/launch/launchCache";
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { isEnd, once, stepAfter, type Decision, type OfferPath } from "../../src/core/offers";
import { signLink } from "../../src/server/platform/access/signedLink";
import { loadLaunch, type LaunchContext } from "../../src/server/launch/launchContext";
import type { RequestOf } from "../../src/contract/endpoint";
import type * as contract from "../../src/contract/offers";
import { changePath } from "../../src/server/offers/savePath";
import { nextAddress } from "../../src/server/checkout/offerPath";
import { offersView, setAssumptions } from "../../src/server/offers/offersView";
import { copyProduct, saveProduct, setPrice } from "../../src/server/products/products";
import { addPage } from "../../src/server/pages/addPage";
import { answerPage } from "../../src/server/site/answer";
import { publishPage } from "../../src/server/pages/publish";
import { submitForm } from "../../src/server/site/submit";
import { OrderLine, Page, Product, type Order } from "../../src/store/tables";
import { addStep, buy, deskCharges, openLaunch, decide, startWorld, visitor, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const fresh = async ({ launch }: LaunchContext) => {
  launchesOf(world.app).clear();
  return (await loadLaunch(em(), { id: launch.id }))!;
};
type Change = RequestOf<typeof contract.changePath>["change"];
const change = async (context: LaunchContext, one: Change, user = world.owner): Promise<LaunchContext> => {
  const { savedPath, launch } = await fresh(context);
  await changePath(em(), user, launch.slug, { version: savedPath.version, change: one }, world.app.clock.now());
  return fresh(context);
};
const publishAll = async (context: LaunchContext): Promise<LaunchContext> => {
  for (const { page } of (await fresh(context)).steps)
    if (!page.published) await publishPage(em(), world.owner, page.id, "Marram & Purl", world.app.clock.now());
  return fresh(context);
};
let n = 0;
const sells = (price: string) => ({ product: { name: `Addition ${(n += 1)}`, price }, page: { template: "offer-bill" } });
/** A launch with an offer, its downsell on the no rail, and one more offer for everybody. */
const threeSteps = async (): Promise<LaunchContext> => {
  const bare = await openLaunch(world, { offer: false });
  const one = await addStep(world, bare.launch.slug, sells("67.00"));
  const first = one.steps[0]!.id;
  await addStep(world, bare.launch.slug, { ...sells("29.00"), kind: "downsell", at: { from: first, rail: "no" } });
  await addStep(world, bare.launch.slug, sells("12.00"));
  return publishAll(bare);
};
const answer = async (context: LaunchContext, order: Order, step: string, decision: Decision) =>
  decide(world, await fresh(context), order.id, step, decision);

describe("any path, whatever is clicked", () => {
  it("charges each accepted step once and no other, through reloads, replays and answers to what is not asked", async () => {
    const context = await threeSteps();
    const ids = context.path.steps.map(({ id }) => id);
    const price = new Map(context.steps.map(({ id, product }) => [id, product.priceMinor]));
    const clicks = fc.array(fc.record({ step: fc.nat(2), decision: fc.constantFrom<Decision>("yes", "no"), times: fc.integer({ min: 1, max: 3 }) }), {
      minLength: 1,
      maxLength: 9,
    });
    await fc.assert(
      fc.asyncProperty(clicks, async (pressed) => {
        const { order } = await buy(world, context);
        // The same answers on paper: only what stands open is answered, and the first answer holds.
        const answers = new Map<string, Decision>();
        for (const { step, decision, times } of pressed) {
          const id = ids[step]!;
          if (stepAfter(context.path, answers) === id) answers.set(id, decision);
          await Promise.all(Array.from({ length: times }, () => decide(world, context, order!.id, id, decision)));
        }
        const yes = [...answers].filter(([, decision]) => decision === "yes").map(([id]) => id);
        const charged = (await deskCharges(world)).filter(({ idempotency_key }) => idempotency_key.startsWith(`offer:${order!.id}:`));
        expect(charged.map(({ amount }) => amount).sort()).toEqual(yes.map((id) => price.get(id)!).sort());
        const lines = await em().find(OrderLine, { orderId: order!.id, role: "offer" });
        expect(lines.map(({ stepId }) => stepId).sort()).toEqual(yes.sort());
      }),
      { numRuns: 12 },
    );
  });
});

describe("a path that is changed while it runs", () => {
  it("is finished by buyers in the middle as they began it, while new ones walk the new version", async () => {
    const context = await threeSteps();
    const [library, lite, evening] = context.path.steps.map(({ id }) => id) as [string, string, string];
    const { order: early } = await buy(world, context);
    await answer(context, early!, library, "no");
    await addStep(world, context.launch.slug, { ...sells("19.00"), at: { before: evening } });
    await change(context, { do: "remove", step: lite });
    const changed = await publishAll(context);
    expect(changed.savedPath.version).toBe(5);
    const inserted = changed.steps.find(({ product }) => product.priceMinor === 1_900)!;
    // The buyer who was there before still meets the downsell that is gone for others, and then what came next.
    const slugOf = (of: LaunchContext, id: string) => of.steps.find((step) => step.id === id)!.page.slug;
    expect(await nextAddress(em(), changed, early!)).toBe(slugOf(context, lite));
    expect((await answer(changed, early!, lite, "yes"))!.state).toBe("succeeded");
    expect(await nextAddress(em(), changed, early!)).toBe(slugOf(changed, evening));
    const { order: late } = await buy(world, changed);
    await answer(changed, late!, library, "no");
    expect(await nextAddress(em(), changed, late!)).toBe(inserted.page.slug);
    const view = await offersView(em(), changed, world.app.clock.now());
    expect(view.versions.map(({ version, walking }) => [version, walking])).toEqual([
      [5, 1],
      [4, 0],
      [3, 1],
      [2, 0],
      [1, 0],
    ]);
    expect(view.figures.steps).toMatchObject({
      [library]: { yes: 0, no: 2, here: 0 },
      [lite]: { yes: 1, no: 0 },
      [evening]: { here: 1 },
      [inserted.id]: { here: 1 },
    });
    expect(view.figures).toMatchObject({ paid: 2, arrived: 0, gross: { [lite]: 2_900 } });
  });
  it("passes over a step whose page is not published, with the downsell that belongs to it", async () => {
    const context = await threeSteps();
    const [library, , evening] = context.path.steps.map(({ id }) => id) as [string, string, string];
    const page = context.steps.find(({ id }) => id === library)!.page;
    await em().nativeUpdate(Page, { id: page.id }, { published: null, compiled: null });
    const without = await fresh(context);
    expect(without.path).toMatchObject({ first: evening, steps: [{ id: evening }] });
    const view = await offersView(em(), without, world.app.clock.now());
    expect(view.findings.filter(({ blocking }) => blocking)).toMatchObject([{ code: "not_published", at: library, field: "page" }]);
    const { order } = await buy(world, without);
    expect(await nextAddress(em(), without, order!)).toBe(without.steps.find(({ id }) => id === evening)!.page.slug);
  });
  it("goes on from an answer though the page it was given on is not shown any more", async () => {
    const context = await threeSteps();
    const [library, lite] = context.steps as [LaunchContext["steps"][0], LaunchContext["steps"][0]];
    const { order } = await buy(world, context);
    await answer(context, order!, library.id, "no");
    await em().nativeUpdate(Page, { id: library.page.id }, { published: null, compiled: null });
    expect(await nextAddress(em(), await fresh(context), order!)).toBe(lite.page.slug);
  });
  it("ends on another thank-you page where a rail leads there", async () => {
    const context = await threeSteps();
    const evening = context.path.steps[2]!.id;
    const other = await addPage(em(), world.owner, context, { address: "thanks-again", headline: "", template: "thanks-receipt", lookFrom: "" });
    await publishPage(em(), world.owner, other.id, "Marram & Purl", world.app.clock.now());
    const led = await change(context, { do: "lead", step: evening, rail: "yes", to: `thanks:${other.id}` });
    const { order } = await buy(world, led);
    for (const { id } of led.path.steps.filter(({ kind }) => kind === "offer")) await answer(led, order!, id, "yes");
    expect(await nextAddress(em(), led, order!)).toBe("thanks-again");
  });
});

describe("laying a path", () => {
  it("moves steps, leads rails, goes back to an earlier version, and is copied into another launch with its pages", async () => {
    const context = await threeSteps();
    const [library, , evening] = context.path.steps.map(({ id }) => id) as [string, string, string];
    const later = await change(context, { do: "later", step: library });
    expect(later.path.first).toBe(evening);
    expect((await change(context, { do: "earlier", step: library })).path).toEqual(context.path);
    const set = await change(context, { do: "set", step: library, change: { sure: true, kind: "downsell" } });
    expect(set.steps[0]).toMatchObject({ sure: true, kind: "downsell", pageId: context.steps[0]!.pageId });
    expect((await change(context, { do: "restore", to: 3 })).savedPath).toEqual({ version: 7, path: context.savedPath.path });
    expect((await change(context, { do: "restore", to: 0 })).path.steps).toEqual([]);

    const empty = await openLaunch(world, { offer: false });
    const copy = await change(empty, { do: "copy", launch: context.launch.slug }).catch((error: unknown) => error);
    expect(copy).toMatchObject({ savedPath: { version: 1, path: { steps: [] } } });
    await change(context, { do: "restore", to: 3 });
    const full = await change(empty, { do: "copy", launch: context.launch.slug });
    expect(full.steps.map(({ product }) => product.id)).toEqual(context.steps.map(({ product }) => product.id));
    expect(full.steps.map(({ page }) => [page.launchId, page.published])).toEqual(context.steps.map(() => [empty.launch.id, null]));
    const known = new Set(context.savedPath.path.steps.map(({ id }) => id));
    const walk = (path: OfferPath): number => (isEnd(path.first) ? 0 : path.steps.filter(({ id }) => known.has(id)).length);
    expect(walk(full.savedPath.path)).toBe(0);
  });
  it("is refused in a circle, of a page twice, in another currency, after somebody else, and to who may only look", async () => {
    const context = await threeSteps();
    const [library, , evening] = context.path.steps.map(({ id }) => id) as [string, string, string];
    const { slug } = context.launch;
    await expect(change(context, { do: "lead", step: evening, rail: "no", to: library })).rejects.toMatchObject({ code: "cycle" });
    await expect(change(context, { do: "lead", step: evening, rail: "no", to: "nowhere" })).rejects.toMatchObject({ code: "edge_to_nothing" });
    await expect(change(context, { do: "set", step: library, change: { pageId: context.steps[1]!.pageId } })).rejects.toMatchObject({
      faults: { page: { code: "on_path_already" } },
    });
    const dollars = await openLaunch(world, { offer: false, request: { currency: "USD" } });
    await expect(addStep(world, slug, { product: { id: dollars.product.id }, page: { template: "offer-bill" } })).rejects.toMatchObject({
      faults: { product: { code: "product_currency" } },
    });
    await expect(change(context, { do: "copy", launch: slug })).rejects.toMatchObject({ faults: { launch: { code: "choose_other_launch" } } });
    const stale = changePath(em(), world.owner, slug, { version: 1, change: { do: "remove", step: library } }, world.app.clock.now());
    await expect(stale).rejects.toMatchObject({ code: "changed_meanwhile" });
    const viewer = { ...world.owner, role: "viewer" as const };
    await expect(change(context, { do: "remove", step: library }, viewer)).rejects.toMatchObject({ status: 403 });
    await expect(setAssumptions(em(), viewer, context.launch.id, {})).rejects.toMatchObject({ status: 403 });
    await expect(setPrice(em(), viewer, context.product.id, { price: "1", terms: once }, new Date())).rejects.toMatchObject({ status: 403 });
    expect((await fresh(context)).savedPath).toEqual(context.savedPath);
  });
});

describe("a step that asks “sure?”", () => {
  it("charges only what was asked twice, whatever a form claims", async () => {
    const context = await threeSteps();
    const step = context.path.steps[0]!.id;
    const asks = await change(context, { do: "set", step, change: { sure: true } });
    const who = visitor();
    const { order } = await buy(world, asks, who);
    const o = signLink(world.app.config.INKBELL_SECRET, "order", order!.id, world.app.clock.now(), 60);
    const press = (values: Record<string, string>) =>
      submitForm(world.app, {
        slug: asks.launch.slug,
        action: "decide",
        values: { o, step, decision: "yes", ...values },
        visitorId: who.visitorId,
        from: "127.0.0.1",
      });
    const { headers } = await press({});
    expect(headers["location"]).toContain("sure=1");
    expect(await em().count(OrderLine, { orderId: order!.id })).toBe(1);
    const [path, query] = headers["location"]!.split("?");
    const page = await answerPage(world.app, {
      slug: asks.launch.slug,
      path: path!.split("/").slice(3).join("/"),
      query: new URLSearchParams(query),
      visitorId: who.visitorId,
    });
    expect(page.body).toContain("Are you sure?");
    expect(page.body).toContain("Yes, charge €67.00");
    await press({ sure: "yes" });
    expect(await em().count(OrderLine, { orderId: order!.id })).toBe(2);
  });
});

describe("a product", () => {
  it("is saved with all its fields, copied, and every price it was asked at is kept", async () => {
    const { product } = await openLaunch(world, { offer: false });
    const now = world.app.clock.now();
    const whole = {
      name: "The Workshop",
      privateLabel: "Main",
      description: "Six weeks.",
      kind: "library" as const,
      taxClass: "reduced" as const,
      taxMode: "inclusive" as const,
      price: "159.00",
      refundDays: 14,
      alone: true,
      onSale: true,
      accessAtOnce: false,
      limitPerPerson: 1,
      seats: 40,
      mediaId: null,
      chargeWhen: "at_once" as const,
      contents: [],
      terms: { kind: "instalments" as const, parts: 3, every: { unit: "month" as const, n: 1 } },
      prices: { USD: "169.00", GBP: "" },
    };
    const version = product.rowVersion;
    await saveProduct(em(), world.owner, product.id, { ...whole, version }, now);
    // Somebody who opened it before is told, and overwrites nothing.
    await expect(saveProduct(em(), world.owner, product.id, { ...whole, version, name: "Mine" }, now)).rejects.toMatchObject({
      code: "changed_meanwhile",
    });
    const { price: _, prices: __, ...saved } = whole;
    expect(await em().findOneOrFail(Product, { id: product.id })).toMatchObject({ ...saved, priceMinor: 15_900, prices: { USD: 16_900 } });
    await setPrice(em(), world.owner, product.id, { price: "149.00", terms: once }, new Date(now.getTime() + 1000));
    await expect(saveProduct(em(), world.owner, product.id, { ...whole, version: version + 2, price: "free" }, now)).rejects.toMatchObject({
      faults: { price: { code: "amount" } },
    });
    const { id } = await copyProduct(em(), world.owner, product.id, { name: "Half of it", price: "79.00" }, now);
    expect(await em().findOneOrFail(Product, { id })).toMatchObject({
      name: "Half of it",
      priceMinor: 7_900,
      kind: "library",
      alone: true,
      taxMode: "inclusive",
    });
    const asked = await em().execute<{ minor: string }[]>("select minor from asked_price where product_id = ? order by at", [product.id]);
    expect(asked.map(({ minor }) => Number(minor)).slice(-2)).toEqual([15_900, 14_900]);
  });
});

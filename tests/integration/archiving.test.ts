import { launchesOf } from "../../src/server/launch/launchCache";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { couponRequest } from "../../src/core/offers";
import { archiveLaunch, deleteLaunch, keptBecause } from "../../src/server/launch/archiveLaunch";
import { loadLaunch, shownPlans, type LaunchContext } from "../../src/server/launch/launchContext";
import { copyLaunch } from "../../src/server/start/copyLaunch";
import { archiveCoupon, deleteCoupon } from "../../src/server/products/archiveCoupon";
import { listCoupons, makeCoupon, stopCoupon } from "../../src/server/products/coupons";
import * as contract from "../../src/contract/pages";
import { addPage } from "../../src/server/pages/addPage";
import { archivedPages, archivePage, deletePage, usesOfPage } from "../../src/server/pages/archivePage";
import { setLook } from "../../src/server/pages/look";
import { publishPage, saveDraft } from "../../src/server/pages/publish";
import { sitemap } from "../../src/server/site/sitemap";
import { addEndpoint } from "../../src/server/webhooks";
import { Launch, Page, PageVersion, Product, WebhookEndpoint } from "../../src/store/tables";
import { addStep, look, openLaunch, setSettings, someone, startWorld, visitor, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const again = async ({ launch }: LaunchContext) => (await loadLaunch(em(), { id: launch.id }))!;
const archive = async (context: LaunchContext, archived = true) => {
  await archiveLaunch(em(), world.owner, context, archived, now());
  launchesOf(world.app).clear();
  return again(context);
};
const draft = async (of: LaunchContext, name = "Again") => {
  const request = { name, as: "dates" as const, opensWall: "2031-05-01T18:00" };
  const { slug } = await copyLaunch(em(), world.owner, of, request, now());
  return (await loadLaunch(em(), { slug }))!;
};
const newPage = (context: LaunchContext, address: string) =>
  addPage(em(), world.owner, context, contract.addPage.request.parse({ address, headline: "A bonus", template: "episode-read" }));

describe("a launch", () => {
  it("stays in sight while people can buy, and then leaves the lists and the sitemap, answering as after the close", async () => {
    const open = await openLaunch(world, { offer: false });
    await expect(archive(open)).rejects.toMatchObject({ status: 409, code: "doors_open" });
    const closed = await openLaunch(world, { offer: false, opensIn: -96, closesIn: -1 });
    const before = await look(world, closed, "");
    expect(await sitemap(world.app)).toContain(`/l/${closed.launch.slug}`);
    const away = await archive(closed);
    const shown = (await shownPlans(em())).map(({ launch }) => launch.id);
    expect(shown).toContain(open.launch.id);
    expect(shown).not.toContain(closed.launch.id);
    expect(await sitemap(world.app)).not.toContain(`/l/${closed.launch.slug}<`);
    expect((await look(world, away, "")).status).toBe(before.status);
    // Nothing of it changes while it is out of sight.
    await expect(setSettings(world, away, { graceMinutes: 3 })).rejects.toMatchObject({ status: 409, code: "archived" });
    await expect(publishPage(em(), world.owner, away.pages[0]!.id, "M", now())).rejects.toMatchObject({ code: "archived" });
    await expect(setLook(em(), world.owner, away.launch.id, away.launch.look, "M")).rejects.toMatchObject({ code: "archived" });
    const step = { product: { name: "More", price: "9.00" }, page: { id: away.pages.find(({ kind }) => kind === "offer")!.id } };
    await expect(addStep(world, away.launch.slug, step)).rejects.toMatchObject({ code: "archived" });
    const back = await archive(away, false);
    expect(back.launch.archivedAt).toBeNull();
    await setSettings(world, back, { graceMinutes: 3 });
  });
  it("is archived as it was looked at: whoever gives it other dates at the same moment wins", async () => {
    const seen = await openLaunch(world, { offer: false, opensIn: -96, closesIn: -1 });
    await setSettings(world, seen, { graceMinutes: 5 });
    await expect(archive(seen)).rejects.toMatchObject({ status: 409, code: "changed_meanwhile" });
    expect((await again(seen)).launch.archivedAt).toBeNull();
  });
  it("is not archived at the very moment its first page is published, whoever comes first", async () => {
    const of = await openLaunch(world);
    const first = (copy: LaunchContext) => copy.pages.find(({ kind }) => kind === "optin")!.id;
    for (let n = 0; n < 6; n += 1) {
      const copy = await draft(of, `At once ${n}`);
      const both = [archive(copy), publishPage(em(), world.owner, first(copy), "M", now())];
      const ended = await Promise.allSettled(n % 2 ? both : both.reverse());
      expect(ended.map(({ status }) => status).sort()).toEqual(["fulfilled", "rejected"]);
      const { launch, pages } = await again(copy);
      expect(pages.some(({ published }) => published !== null)).toBe(launch.archivedAt === null);
    }
  });
  it("is deleted for good where nothing hangs on it, its products but not", async () => {
    const of = await openLaunch(world);
    const copy = await draft(of);
    await newPage(copy, "bonus");
    expect(await keptBecause(em(), copy)).toBeUndefined();
    await expect(deleteLaunch(em(), someone("viewer"), copy)).rejects.toMatchObject({ status: 403 });
    await addEndpoint(em(), world.owner, { url: "https://tool.example/in", events: ["order.paid"], launch: copy.launch.id }, world.app.clock.now());
    await deleteLaunch(em(), world.owner, copy);
    expect(await em().count(WebhookEndpoint, { launchId: copy.launch.id })).toBe(0);
    expect(await em().findOne(Launch, { id: copy.launch.id })).toBeNull();
    expect(await em().count(Page, { launchId: copy.launch.id })).toBe(0);
    expect(await em().execute("select 1 from outbox where payload->>'id' = ?", [copy.launch.id])).toEqual([]);
    expect(await em().findOne(Product, { id: of.product.id })).not.toBeNull();
  });
  it("is kept once a page was public, somebody came, or another launch's clock hands people on to it", async () => {
    const of = await openLaunch(world, { offer: false });
    await expect(deleteLaunch(em(), world.owner, of)).rejects.toMatchObject({ status: 409, code: "launch_in_use" });
    const seen = await draft(of, "Seen");
    await em().execute("insert into page_rollup (launch_id, page, person_id, seen_at) values (?, 'sales', ?, now())", [
      seen.launch.id,
      (await someBody()).personId,
    ]);
    expect(await keptBecause(em(), seen)).toEqual({ trace: "people" });
    const wanted = await draft(of, "Wanted");
    await setSettings(world, of, { stops: [{ id: "s", on: "purchase", page: null, handTo: wanted.launch.id }] as never });
    expect(await keptBecause(em(), wanted)).toEqual({ handsOver: of.launch.name });
  });
  const someBody = async () => {
    const { visitorId } = visitor();
    const context = await openLaunch(world, { offer: false });
    await look(world, context, "", visitorId);
    await world.app.events.flush();
    const [row] = await em().execute<{ person_id: string }[]>("select person_id from visitor where id = ?", [visitorId]);
    return { personId: row!.person_id };
  };
});

describe("a page", () => {
  it("is archived once nothing hangs on it, keeps address and history, and comes back as a draft", async () => {
    const context = await openLaunch(world, { offer: false });
    const { id } = await newPage(context, "bonus");
    const page = await em().findOneOrFail(Page, { id });
    await saveDraft(em(), world.owner, id, { ...page.draft, description: "Once more." }, page.version, now());
    await publishPage(em(), world.owner, id, "M", now());
    launchesOf(world.app).clear();
    expect((await look(world, context, "bonus")).status).toBe(200);
    const versions = await em().count(PageVersion, { pageId: id });
    await archivePage(em(), world.owner, id, true, now());
    launchesOf(world.app).clear();
    const without = await again(context);
    expect((await look(world, without, "bonus")).status).toBe(404);
    expect(without.pages.some((one) => one.id === id)).toBe(false);
    expect(await archivedPages(em(), without)).toMatchObject([{ id, slug: "bonus", deletable: false }]);
    await expect(newPage(without, "bonus")).rejects.toMatchObject({
      status: 422,
      faults: { address: { code: "address_archived" } },
    });
    await expect(saveDraft(em(), world.owner, id, page.draft, page.version + 2, now())).rejects.toMatchObject({ status: 404 });
    await expect(deletePage(em(), world.owner, id)).rejects.toMatchObject({ status: 409, code: "in_use" });
    await archivePage(em(), world.owner, id, false, now());
    const back = (await again(context)).pages.find((one) => one.id === id)!;
    expect(back).toMatchObject({ published: null, slug: "bonus" });
    expect(await em().count(PageVersion, { pageId: id })).toBe(versions);
  });
  it("is kept while something hangs on it, which is named with its place", async () => {
    const context = await openLaunch(world);
    const offer = context.pages.find(({ kind }) => kind === "offer")!;
    expect(usesOfPage(context, offer)[0]).toMatchObject({
      says: "It stands on a step of the offer path.",
      href: expect.stringContaining("/offers?at=") as string,
    });
    for (const kind of ["offer", "sales", "checkout", "thanks", "closed"] as const) {
      const page = context.pages.find((one) => one.kind === kind)!;
      await expect(archivePage(em(), world.owner, page.id, true, now()), kind).rejects.toMatchObject({ status: 409, code: "page_in_use" });
    }
    expect((await again(context)).archived).toEqual([]);
  });
  it("is deleted for good where nobody ever saw it", async () => {
    const context = await openLaunch(world, { offer: false });
    const { id } = await newPage(context, "unseen");
    await expect(deletePage(em(), world.owner, id)).rejects.toMatchObject({ status: 404 });
    await archivePage(em(), world.owner, id, true, now());
    await expect(deletePage(em(), someone("finance"), id)).rejects.toMatchObject({ status: 403 });
    await deletePage(em(), world.owner, id);
    expect(await em().findOne(Page, { id })).toBeNull();
    await newPage(await again(context), "unseen");
  });
});

describe("a coupon", () => {
  const make = async (code: string) => {
    const request = couponRequest.parse({
      label: "Test",
      off: { kind: "percent", percent: "10" },
      codes: { kind: "shared", code, uses: null },
      products: null,
      from: "",
      until: "",
      zone: "Europe/Lisbon",
      oncePerPerson: false,
    });
    return (await makeCoupon(em(), world.owner, request, now())).id;
  };
  const rowOf = async (id: string) => (await listCoupons(em())).find((one) => one.id === id);

  it("leaves the list once it has ended, and comes back", async () => {
    const id = await make("AWAY-1");
    await expect(archiveCoupon(em(), world.owner, id, true, now())).rejects.toMatchObject({ status: 409, code: "coupon_runs" });
    await stopCoupon(em(), world.owner, id, now());
    await archiveCoupon(em(), world.owner, id, true, now());
    expect(await rowOf(id)).toMatchObject({ archived: true, stopped: true });
    await archiveCoupon(em(), world.owner, id, false, now());
    expect(await rowOf(id)).toMatchObject({ archived: false, stopped: true });
  });
  it("is deleted where nobody used a code of it, and its code is free again", async () => {
    const id = await make("AWAY-2");
    const context = await openLaunch(world, { offer: false });
    await em().execute("insert into visitor_coupon (visitor_id, launch_id, code, at) values (gen_random_uuid(), ?, 'AWAY-2', now())", [
      context.launch.id,
    ]);
    await expect(deleteCoupon(em(), world.owner, id)).rejects.toMatchObject({ status: 409, code: "in_use" });
    await em().execute("delete from visitor_coupon where code = 'AWAY-2'");
    await expect(deleteCoupon(em(), someone("finance"), id)).rejects.toMatchObject({ status: 403 });
    await deleteCoupon(em(), world.owner, id);
    expect(await rowOf(id)).toBeUndefined();
    await make("AWAY-2");
  });
});

import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { Refusal } from "../../src/server/app/refusal";
import { answerPage, guessCountry, visitorOf } from "../../src/server/pages/answer";
import { publishPage, saveDraft } from "../../src/server/pages/publish";
import { recompilePublished } from "../../src/server/pages/recompile";
import { previewDraft } from "../../src/server/pages/preview";
import { setOffer } from "../../src/server/offers/setOffer";
import { submitForm } from "../../src/server/pages/submit";
import { Page } from "../../src/store/entities";
import type { LaunchBundle } from "../../src/server/launch/bundle";
import { addPartner, advance, buyer, openLaunch, startWorld, until, visitor, type World } from "../support/world";

let world: World;
let bundle: LaunchBundle;
beforeAll(async () => {
  world = await startWorld();
  bundle = await openLaunch(world, { opensIn: 1, closesIn: 3 });
});
afterAll(() => world.stop());

const get = (path: string, query = "", visitorId?: string) =>
  answerPage(world.app, { slug: bundle.launch.slug, path, query: new URLSearchParams(query), visitorId });
const headline = (body: string) => /<h1>(.*?)<\/h1>/.exec(body)?.[1];
const post = (action: string, values: Record<string, string>, visitorId: string) =>
  submitForm(world.app, { slug: bundle.launch.slug, action, values, visitorId, from: visitorId });
const pageOf = (kind: string) => world.app.fork().findOneOrFail(Page, { launchId: bundle.launch.id, kind: kind as "sales" });

describe("a public address", () => {
  it("shows the opt-in before the doors, with the countdown in words for who runs no script", async () => {
    const { body, status, headers, cookies } = await get("");
    expect(status).toBe(200);
    expect(headline(body)).toBe("The Workshop opens soon.");
    expect(body).toMatch(/Doors open \w+ \d+ \w+ \d{4} at \d\d:\d\d, Lisbon time/);
    expect(body).toMatch(/name="consent" value="yes"\s*\/?>/);
    expect(headers["content-security-policy"]).toContain("default-src 'none'");
    expect(cookies![0]).toMatch(/^ib_v=.*HttpOnly; SameSite=Lax/);
  });
  it("knows its visitor again, and sets no second cookie", async () => {
    const { visitorId } = visitor();
    expect((await get("", "", visitorId)).cookies).toEqual([]);
    expect(visitorOf(`a=b; ib_v=${visitorId}; c=d`)).toBe(visitorId);
    expect(visitorOf("ib_v=' or 1=1")).toBeUndefined();
    expect(guessCountry("pt-PT,en;q=0.8")).toBe("PT");
    expect(guessCountry("en")).toBeUndefined();
  });
  it("takes the partner's code out of the address and keeps the rest", async () => {
    await addPartner(world, "link");
    const { status, headers } = await get("", "p=link&utm_source=letter");
    expect(status).toBe(303);
    expect(headers["location"]).toBe(`/l/${bundle.launch.slug}?utm_source=letter`);
  });
  it("that does not exist, or whose page is not published, is a 404 that says so", async () => {
    expect((await get("nowhere")).status).toBe(404);
    expect((await answerPage(world.app, { slug: "none", path: "", query: new URLSearchParams() })).status).toBe(404);
    const draft = await openLaunch(world, { publish: false });
    const answer = await answerPage(world.app, { slug: draft.launch.slug, path: "", query: new URLSearchParams() });
    expect(answer.status).toBe(404);
    expect(answer.body).toContain("Not open to the public yet");
  });
  it("behind an order leads away without one, and with a forged link", async () => {
    for (const query of ["", "o=forged.token.here"]) expect((await get("thank-you", query)).headers["location"]).toBe(`/l/${bundle.launch.slug}`);
  });
  it("brings a form back with what was typed and what is wrong, and writes nothing", async () => {
    const { visitorId } = visitor();
    const { status, body } = await post("opt-in", { firstName: '"><script>', email: "ada@", consent: "" }, visitorId);
    expect(status).toBe(422);
    expect(body).toContain('value="ada@"');
    expect(body).toContain("&quot;&gt;&lt;script&gt;");
    expect(body).toContain("Tick the box");
    expect(await world.app.fork().execute("select 1 from visitor where id = ?", [visitorId])).toEqual([]);
  });
  it("refuses the checkout on the server before the doors open", async () => {
    const { status, body } = await post("start", buyer(), visitor().visitorId);
    expect(status).toBe(409);
    expect(body).toContain("The doors are not open yet. Nothing was charged.");
  });
  it("becomes the sales page at the opening bell, and the closed page at the closing one", async () => {
    await advance(world, 61);
    expect(headline((await get("")).body)).toBe("The Workshop is open.");
    const { visitorId } = visitor();
    expect((await post("start", buyer(), visitorId)).headers["location"]).toBe(`/l/${bundle.launch.slug}/checkout`);
    expect((await get("checkout", "", visitorId)).body).toContain("of it tax, 23 %");
    await advance(world, 121);
    expect(headline((await get("")).body)).toBe("The doors are closed.");
    expect(headline((await get("checkout")).body)).toBe("The doors are closed.");
    // Who had begun still sees the checkout within the grace time.
    expect(headline((await get("checkout", "", visitorId)).body)).toBe("Your order");
    await advance(world, 15);
    expect(headline((await get("checkout", "", visitorId)).body)).toBe("The doors are closed.");
  });
});

describe("a page's words", () => {
  const words = { headline: "Ours <b>now</b>", text: "Text", button: "Go" };
  it("are saved as a draft that nobody sees, shown in the preview, and public after publishing, in every process", async () => {
    const page = await pageOf("closed");
    await saveDraft(world.app.fork(), world.owner, page.id, words, page.version);
    expect(headline((await get("closed")).body)).toBe("The doors are closed.");
    expect(headline((await previewDraft(world.app, world.app.fork(), page.id, { kind: "everyone" }, world.app.clock.now()))!)).toBe(
      "Ours &lt;b&gt;now&lt;/b&gt;",
    );
    await publishPage(world.app.fork(), world.owner, page.id, "V", world.app.clock.now());
    // The cache hears of it through the database.
    await until(async () => headline((await get("closed")).body) === "Ours &lt;b&gt;now&lt;/b&gt;");
  });
  it("are not overwritten by who started from an older version", async () => {
    const page = await pageOf("sales");
    const saves = await Promise.allSettled([1, 2].map(() => saveDraft(world.app.fork(), world.owner, page.id, words, page.version)));
    expect(saves.map(({ status }) => status).sort()).toEqual(["fulfilled", "rejected"]);
  });
  it("are refused where something is missing, and the last good ones stay", async () => {
    const page = await pageOf("optin");
    await expect(saveDraft(world.app.fork(), world.owner, page.id, { ...words, headline: "" }, page.version)).rejects.toMatchObject({
      fields: { headline: "A page needs a headline." },
    });
    expect((await pageOf("optin")).draft.headline).toBe("The Workshop opens soon.");
  });
  it("may be changed by nobody who only looks", async () => {
    const page = await pageOf("optin");
    const viewer = { ...world.owner, role: "viewer" as const };
    await expect(saveDraft(world.app.fork(), viewer, page.id, words, page.version)).rejects.toBeInstanceOf(Refusal);
    await expect(publishPage(world.app.fork(), viewer, page.id, "V", new Date())).rejects.toBeInstanceOf(Refusal);
  });
  it("of an offer without a product cannot be published", async () => {
    const bare = await openLaunch(world, { offer: false });
    const page = await world.app.fork().findOneOrFail(Page, { launchId: bare.launch.id, kind: "offer" });
    await expect(publishPage(world.app.fork(), world.owner, page.id, "V", new Date())).rejects.toMatchObject({ code: "no_product" });
    await expect(setOffer(world.app.fork(), world.owner, page.id, { name: "X", price: "0" })).rejects.toMatchObject({
      fields: { price: expect.any(String) as string },
    });
    await setOffer(world.app.fork(), world.owner, page.id, { name: "X", price: "5" });
    await setOffer(world.app.fork(), world.owner, page.id, { name: "Y", price: "6" });
    expect((await publishPage(world.app.fork(), world.owner, page.id, "V", new Date())).published).not.toBeNull();
    const steps = await world.app
      .fork()
      .execute("select p.name, p.price_minor::int as price from path_step s join product p on p.id = s.product_id where s.page_id = ?", [page.id]);
    expect(steps).toEqual([{ name: "Y", price: 600 }]);
  });
});

describe("a page published under an older look", () => {
  it("is compiled anew at the next start, with the words it was published with", async () => {
    const page = await pageOf("sales");
    await world.app
      .fork()
      .execute(
        `update page set compiled = '{"parts": ["<style>old</style>", ""], "holes": ["form"]}', draft = draft || '{"headline": "Not yet"}' where id = ?`,
        [page.id],
      );
    expect(await recompilePublished(world.app.fork(), "V")).toBe(1);
    expect(await recompilePublished(world.app.fork(), "V")).toBe(0);
    const { compiled, published } = await pageOf("sales");
    expect(compiled!.holes).toHaveLength(6);
    expect(compiled!.parts.join("")).toContain(published!.headline);
    expect(compiled!.parts.join("")).not.toContain("Not yet");
  });
});

import { fault } from "../../src/core/words";
import { createHash, randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { Refusal } from "../../src/server/platform/refusal";
import { answerPage } from "../../src/server/site/answer";
import { guessCountry, visitorOf } from "../../src/server/platform/http/publicRequest";
import { builder, headlineOf, idsFrom, pageLeaves, pageOf, standardLook } from "../../src/core/pages";
import { signLink } from "../../src/server/platform/access/signedLink";
import { addPage, copyPage } from "../../src/server/pages/addPage";
import { frameOf, framePolicy } from "../../src/server/site/frame";
import { setLook } from "../../src/server/pages/look";
import { upload } from "../../src/server/pages/media";
import { notePresence } from "../../src/server/pages/presence";
import { publishPage, restoreVersion, saveDraft, versionsOf } from "../../src/server/pages/publish";
import { recompilePublished } from "../../src/server/pages/recompile";
import { previewDraft } from "../../src/server/site/preview";
import { sharedPreview, sharePreview } from "../../src/server/site/share";
import { dropTemplate, keepTemplate, ownTemplates } from "../../src/server/pages/templates";
import { submitForm } from "../../src/server/site/submit";
import { Page } from "../../src/store/tables";
import { loadLaunch, type LaunchContext } from "../../src/server/launch/launchContext";
import { addPartner, addStep, advance, buyer, openLaunch, startWorld, until, visitor, type World } from "../support/world";

let world: World;
let context: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  context = await openLaunch(world, { opensIn: 1, closesIn: 3 });
});
afterAll(() => world.stop());

const get = (path: string, query = "", visitorId?: string) =>
  answerPage(world.app, { slug: context.launch.slug, path, query: new URLSearchParams(query), visitorId });
const headline = (body: string) => /<h1>(.*?)<\/h1>/.exec(body)?.[1];
const post = (action: string, values: Record<string, string>, visitorId: string) =>
  submitForm(world.app, { slug: context.launch.slug, action, values, visitorId, from: visitorId });
const pageOfKind = (kind: string) => world.app.fork().findOneOrFail(Page, { launchId: context.launch.id, kind: kind as "sales" });

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
  it("answers a crowd at once with the very page that a waited answer is, in the words of each country", async () => {
    await get("");
    const { visitorId } = visitor();
    const ask = (query: string, acceptLanguage?: string) =>
      answerPage(world.app, { slug: context.launch.slug, path: "", query: new URLSearchParams(query), visitorId, acceptLanguage });
    // What differs from one instant to the next: the hour it was sent, and when its form was shown.
    const timeless = (body: string) => body.replaceAll(/data-now="\d+"|role="timer">[^<]*|name="shownAt" value="\d+"/g, "");
    for (const language of ["pt-PT", "en-US", undefined]) {
      const atOnce = ask("", language);
      expect(atOnce).not.toBeInstanceOf(Promise);
      const waited = ask("ref=x", language);
      expect(waited).toBeInstanceOf(Promise);
      expect(timeless((await atOnce).body)).toBe(timeless((await waited).body));
      expect((await atOnce).headers).toEqual((await waited).headers);
    }
    expect((await ask("", "en-US")).body).toContain("with one click at any time");
    expect((await ask("", "pt-PT")).body).not.toContain("at any time");
  });
  it("takes the partner's code out of the address and keeps the rest", async () => {
    await addPartner(world, "link");
    const { status, headers } = await get("", "p=link&utm_source=email");
    expect(status).toBe(303);
    expect(headers["location"]).toBe(`/l/${context.launch.slug}?utm_source=email`);
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
    for (const query of ["", "o=forged.token.here"]) expect((await get("thank-you", query)).headers["location"]).toBe(`/l/${context.launch.slug}`);
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
    expect((await post("start", buyer(), visitorId)).headers["location"]).toBe(`/l/${context.launch.slug}/checkout`);
    expect((await get("checkout", "", visitorId)).body).toContain("incl. VAT, 23 %");
    await advance(world, 121);
    expect(headline((await get("")).body)).toBe("The doors are closed.");
    expect(headline((await get("checkout")).body)).toBe("The doors are closed.");
    // Who had begun still sees the checkout within the grace time.
    expect(headline((await get("checkout", "", visitorId)).body)).toBe("Your order");
    await advance(world, 15);
    expect(headline((await get("checkout", "", visitorId)).body)).toBe("The doors are closed.");
  });
});

const b = builder(idsFrom("b"));
const closedPage = (headline: string) => pageOf([b.section([b.title(headline), b.form("Go")])]);
const save = (page: Page, content: unknown, user = world.owner, version = page.version) =>
  saveDraft(world.app.fork(), user, page.id, content, version, world.app.clock.now());
const publish = (page: Page, user = world.owner, version?: number) =>
  publishPage(world.app.fork(), user, page.id, "V", world.app.clock.now(), version);

describe("a page", () => {
  it("is saved as a draft that nobody sees, shown in the preview, and public after publishing, in every process", async () => {
    const page = await pageOfKind("closed");
    await save(page, closedPage("Ours <b>now</b>"));
    expect(headline((await get("closed")).body)).toBe("The doors are closed.");
    const preview = await previewDraft(world.app, world.app.fork(), page.id, { kind: "everyone" }, world.app.clock.now());
    expect(headline(preview!.body)).toBe("Ours &lt;b&gt;now&lt;/b&gt;");
    expect(preview!.body).not.toMatch(/<script|action="\/l\//);
    await publish(page);
    // The cache hears of it through the database.
    await until(async () => headline((await get("closed")).body) === "Ours &lt;b&gt;now&lt;/b&gt;");
  });
  it("is not overwritten by who started from an older version, nor published unseen", async () => {
    const page = await pageOfKind("sales");
    const content = pageOf([b.section([b.title("Mine"), b.price("Go")])]);
    const saves = await Promise.allSettled([1, 2, 3].map(() => save(page, content)));
    expect(saves.map(({ status }) => status).sort()).toEqual(["fulfilled", "rejected", "rejected"]);
    expect(saves.find(({ status }) => status === "rejected")).toMatchObject({ reason: { code: "changed_meanwhile" } });
    await expect(publish(page, world.owner, page.version)).rejects.toMatchObject({ code: "changed_meanwhile" });
  });
  it("refuses what is no page, at its field, and keeps the last good one", async () => {
    const page = await pageOfKind("optin");
    const long = pageOf([b.section([b.title("x".repeat(161))])]);
    await expect(save(page, long)).rejects.toMatchObject({ faults: { "sections.0.blocks.0.text": { code: "too_long", most: 160 } } });
    await expect(save(page, { headline: "old" })).rejects.toBeInstanceOf(Refusal);
    expect(headlineOf((await pageOfKind("optin")).draft)).toBe("The Workshop opens soon.");
  });
  it("with a dead end is saved, and not published", async () => {
    const page = await pageOfKind("optin");
    await save(page, pageOf([b.section([b.title("T"), b.button("Go", { to: "page", page: "gone" })])]));
    await expect(publish(page)).rejects.toMatchObject({ data: { code: "gap", says: expect.stringContaining("a page that is not there") as string } });
    await save(await pageOfKind("optin"), page.draft);
  });
  it("may be changed by nobody who only looks", async () => {
    const page = await pageOfKind("optin");
    const viewer = { ...world.owner, role: "viewer" as const };
    await expect(save(page, page.draft, viewer)).rejects.toBeInstanceOf(Refusal);
    await expect(publish(page, viewer)).rejects.toBeInstanceOf(Refusal);
    await expect(notePresence(world.app.fork(), viewer, page.id, new Date())).rejects.toBeInstanceOf(Refusal);
    await expect(upload(world.app, world.app.fork(), viewer, "x.png", Buffer.alloc(10), new Date())).rejects.toBeInstanceOf(Refusal);
    await expect(setLook(world.app.fork(), viewer, context.launch.id, standardLook, "V")).rejects.toBeInstanceOf(Refusal);
    await expect(keepTemplate(world.app.fork(), viewer, { page: page.id, name: "T", purpose: "opt-in" }, new Date())).rejects.toBeInstanceOf(Refusal);
    await expect(copyPage(world.app.fork(), viewer, page.id, { launch: context.launch.slug, address: "x" })).rejects.toBeInstanceOf(Refusal);
    await expect(sharePreview(world.app, world.app.fork(), viewer, page.id, new Date())).rejects.toBeInstanceOf(Refusal);
  });
  it("of an offer that stands on no step cannot be published; a downsell stands on the no rail of what it replaces", async () => {
    const bare = await openLaunch(world, { offer: false });
    const page = await world.app.fork().findOneOrFail(Page, { launchId: bare.launch.id, kind: "offer" });
    await expect(publish(page)).rejects.toMatchObject({ code: "no_step" });
    await expect(addStep(world, bare.launch.slug, { product: { name: "X", price: "0" }, page: { id: page.id } })).rejects.toMatchObject({
      faults: { price: { code: "above_zero" } },
    });
    const one = await addStep(world, bare.launch.slug, { product: { name: "Y", price: "6" }, page: { id: page.id } });
    await expect(addStep(world, bare.launch.slug, { product: { name: "Z", price: "3" }, page: { id: page.id } })).rejects.toMatchObject({
      faults: { page: { code: "on_path_already" } },
    });
    expect((await publish(page)).published).not.toBeNull();
    const two = await addStep(world, bare.launch.slug, {
      at: { from: one.steps[0]!.id, rail: "no" },
      kind: "downsell",
      product: { name: "Z", price: "3" },
      page: { template: "downsell-plain" },
    });
    expect(two.steps.map(({ product, page: on, kind }) => [product.name, product.priceMinor, on.slug, kind])).toEqual([
      ["Y", 600, page.slug, "offer"],
      ["Z", 300, "z", "downsell"],
    ]);
    expect(two.steps.map(({ noTo }) => noTo)).toEqual([two.steps[1]!.id, "thanks"]);
    // Its page is a draft: buyers pass it over.
    expect(two.path.steps.map(({ noTo }) => noTo)).toEqual(["thanks"]);
  });
});

describe("the history of a page", () => {
  it("keeps what it began with and every later state, minute by minute, and brings any of them back", async () => {
    const launch = await openLaunch(world, { offer: false });
    const find = () => world.app.fork().findOneOrFail(Page, { launchId: launch.launch.id, kind: "closed" });
    for (const word of ["One", "Two"]) await save(await find(), closedPage(word));
    await advance(world, 2);
    await save(await find(), closedPage("Three"));
    await publish(await find());
    const lines = await versionsOf(world.app.fork(), (await find()).id);
    expect(lines.map(({ version, published }) => [version, published])).toEqual([
      [4, true],
      [3, false],
      [1, true],
    ]);
    expect(lines[0]!.says).toContain("headline");
    const restored = await restoreVersion(world.app.fork(), world.owner, (await find()).id, 3, 4, world.app.clock.now());
    expect(headlineOf(restored.draft)).toBe("Two");
    expect(restored.version).toBe(5);
    await expect(restoreVersion(world.app.fork(), world.owner, restored.id, 3, 4, world.app.clock.now())).rejects.toMatchObject({
      code: "changed_meanwhile",
    });
  });
  it("tells two people of one another while both have it open", async () => {
    const page = await pageOfKind("closed");
    const other = { ...world.owner, id: randomUUID() };
    await world.app
      .fork()
      .execute("insert into desk_user (id, email, name, password_hash, role) values (?, ?, 'Ines', '', 'editor')", [
        other.id,
        `${other.id}@v.example`,
      ]);
    const now = world.app.clock.now();
    expect((await notePresence(world.app.fork(), other, page.id, now)).others).toEqual([]);
    expect(await notePresence(world.app.fork(), world.owner, page.id, now)).toEqual({ others: ["Ines"], version: page.version });
    expect((await notePresence(world.app.fork(), world.owner, page.id, new Date(now.getTime() + 60_000))).others).toEqual([]);
  });
});

describe("looks, templates and copies", () => {
  it("changes a launch's look on all its published pages in one step, but those with a look of their own", async () => {
    const launch = await openLaunch(world, { offer: false });
    const find = (kind: string) => world.app.fork().findOneOrFail(Page, { launchId: launch.launch.id, kind: kind as "sales" });
    const own = await find("closed");
    await save(own, { ...own.draft, look: { ...standardLook, accent: "#00FF00" } });
    await publish(own);
    const published = launch.pages.filter((page) => page.published).length;
    const look = { ...standardLook, theme: "letter" as const, accent: "#2F6B4F" as const };
    expect(await setLook(world.app.fork(), world.owner, launch.launch.id, look, "V")).toEqual({ pages: published - 1 });
    expect((await find("sales")).compiled!.parts.join("")).toContain("--accent:#2F6B4F");
    expect((await find("closed")).compiled!.parts.join("")).not.toContain("#2F6B4F");
    const answer = await answerPage(world.app, { slug: launch.launch.slug, path: "", query: new URLSearchParams() });
    const [, style] = /<style>(.*?)<\/style>/.exec(answer.body)!;
    expect(answer.headers["content-security-policy"]).toContain(`'sha256-${createHash("sha256").update(style!).digest("base64")}'`);
    await expect(setLook(world.app.fork(), world.owner, launch.launch.id, { ...look, accent: "red" as "#000000" }, "V")).rejects.toThrow(
      fault("colour"),
    );
  });
  it("keeps a page as a template, makes pages from it, and copies one into a launch that looks different", async () => {
    const page = await pageOfKind("sales");
    const kept = await keepTemplate(world.app.fork(), world.owner, { page: page.id, name: "Ours", purpose: "sales" }, new Date());
    const target = await openLaunch(world, { offer: false });
    const fresh = async () => (await loadLaunch(world.app.fork(), { id: target.launch.id }))!;
    const made = await addPage(world.app.fork(), world.owner, await fresh(), {
      address: "sale/two",
      headline: "Again",
      template: kept.id,
      lookFrom: "",
    });
    expect([made.kind, headlineOf(made.draft)]).toEqual(["sales", "Again"]);
    expect(pageLeaves(made.draft).map(({ id }) => id)).not.toEqual(pageLeaves(page.draft).map(({ id }) => id));
    await setLook(world.app.fork(), world.owner, target.launch.id, { ...standardLook, theme: "lantern" }, "V");
    const { page: copy } = await copyPage(world.app.fork(), world.owner, page.id, { launch: target.launch.slug, address: "sale/three" });
    expect(copy.draft.look).toEqual(context.launch.look);
    await expect(
      addPage(world.app.fork(), world.owner, await fresh(), { address: "till", headline: "", template: "checkout-plain", lookFrom: "" }),
    ).rejects.toMatchObject({
      faults: { template: { code: "one_checkout" } },
    });
    await expect(
      addPage(world.app.fork(), world.owner, await fresh(), { address: "x", headline: "", template: "none", lookFrom: "" }),
    ).rejects.toMatchObject({
      faults: { template: { code: "no_such_template" } },
    });
    await dropTemplate(world.app.fork(), world.owner, kept.id);
    expect(await ownTemplates(world.app.fork())).toEqual([]);
  });
  it("shows a draft at a private address for two weeks, and to nobody with another link", async () => {
    const page = await pageOfKind("sales");
    const now = world.app.clock.now();
    const token = (await sharePreview(world.app, world.app.fork(), world.owner, page.id, now)).split("/").pop()!;
    expect(headline((await sharedPreview(world.app, world.app.fork(), token))!.body)).toBe("Mine");
    expect(await sharedPreview(world.app, world.app.fork(), signLink(world.app.config.INKBELL_SECRET, "order", page.id, now, 5))).toBeUndefined();
    expect(await sharedPreview(world.app, world.app.fork(), signLink(world.app.config.INKBELL_SECRET, "preview", page.id, now, -1))).toBeUndefined();
  });
});

describe("the vendor's own HTML", () => {
  it("is answered for its block of a published page alone, in a document without an origin", async () => {
    const page = await pageOfKind("closed");
    await save(page, pageOf([b.section([b.title("T"), { ...b.made("html", { title: "F", code: "<script>x()</script>" }), id: "own" }])]));
    expect(await frameOf(world.app, context.launch.slug, "closed", "own")).toBeUndefined();
    await publish(page);
    await until(async () => (await frameOf(world.app, context.launch.slug, "closed", "own")) === "<script>x()</script>");
    expect(await frameOf(world.app, context.launch.slug, "closed", "other")).toBeUndefined();
    expect(framePolicy).toMatch(/^sandbox (?!.*allow-same-origin)/);
    expect((await get("closed")).body).toMatch(
      /<iframe[^>]*src="\/l\/[a-z0-9-]+\/frame\/closed\?b=own"[^>]*sandbox="allow-scripts allow-forms allow-popups"/,
    );
  });
});

describe("a page published by another version of the program", () => {
  it("is compiled anew at the next start, with the words it was published with", async () => {
    const page = await pageOfKind("checkout");
    await world.app
      .fork()
      .execute(
        `update page set compiled = '{"parts": ["<style>old</style>"], "holes": [], "made": "old"}', draft = draft || '{"title": "Not yet"}' where id = ?`,
        [page.id],
      );
    expect(await recompilePublished(world.app.fork(), "V")).toBe(1);
    expect(await recompilePublished(world.app.fork(), "V")).toBe(0);
    const { compiled, published } = await pageOfKind("checkout");
    expect(compiled!.parts.join("")).toContain(headlineOf(published!));
    expect(compiled!.parts.join("")).not.toContain("Not yet");
  });
});

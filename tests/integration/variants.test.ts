import type { Refusal } from "../../src/server/platform";
import { faultSentence } from "../../src/core/words";
import { launchesOf } from "../../src/server/launch/launchCache";
import { randomUUID } from "node:crypto";
import sharp from "sharp";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { headlineOf, variantName, mediaHref, withHeadline } from "../../src/core/pages";
import { loadLaunch, type LaunchContext } from "../../src/server/launch/launchContext";
import { answerMedia } from "../../src/server/site/answerMedia";
import { answerPage } from "../../src/server/site/answer";
import { changeAddress } from "../../src/server/pages/changeAddress";
import { changeMedia, listMedia, upload } from "../../src/server/pages/media";
import { previewDraft, proofFacts } from "../../src/server/site/preview";
import { sharedPreview, sharePreview } from "../../src/server/site/share";
import { gapsOf, publishPage, saveDraft, versionsOf } from "../../src/server/pages/publish";
import { sitemap } from "../../src/server/site/sitemap";
import { addVariant, dropVariant, makeWinner, setWeights } from "../../src/server/pages/variants";
import { optIn } from "../../src/server/people/optIn";
import { pageFigures } from "../../src/store/pages/pageFigures";
import { Page } from "../../src/store/tables";
import { buyer, openLaunch, sentBy, startWorld, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const viewer = () => ({ ...world.owner, role: "viewer" as const });
const find = (context: LaunchContext, key: string) => em().findOneOrFail(Page, { launchId: context.launch.id, key });
const get = async (context: LaunchContext, path: string, visitorId?: string) => {
  const answer = await answerPage(world.app, { slug: context.launch.slug, path, query: new URLSearchParams(), visitorId });
  return { ...answer, headline: /<h1>(.*?)<\/h1>/.exec(answer.body)?.[1] };
};
/** A launch whose sales page is tested in two versions, half and half. */
const tested = async (): Promise<LaunchContext> => {
  const context = await openLaunch(world, { offer: false });
  const page = await find(context, "sales");
  const made = await addVariant(em(), world.owner, page.id);
  await saveDraft(em(), world.owner, made.id, withHeadline(made.draft, "The other one"), 1, now());
  await publishPage(em(), world.owner, made.id, "V", now());
  launchesOf(world.app).clear();
  return context;
};

describe("two versions of a page", () => {
  it("are shown to about as many people each, the same one to a person every time, and their figures are kept apart", async () => {
    const context = await tested();
    const people = Array.from({ length: 160 }, () => randomUUID());
    const saw = new Map<string, string>();
    for (const id of people) saw.set(id, (await get(context, "join", id)).headline!);
    await world.app.events.flush();
    for (const id of people) expect((await get(context, "join", id)).headline).toBe(saw.get(id));
    const others = [...saw.values()].filter((headline) => headline === "The other one").length;
    // 160 fair throws: outside 50 to 110 about once in a million.
    expect(others).toBeGreaterThan(49);
    expect(others).toBeLessThan(111);
    const figures = await pageFigures(em(), { launchId: context.launch.id, now: world.app.clock.now() });
    expect(figures.filter(({ page }) => page === "sales").map(({ variant, people: n }) => [variant, n])).toEqual([
      ["A", 160 - others],
      ["B", others],
    ]);
    // Shares may change: who has seen one goes on seeing it.
    const [a, other] = [await find(context, "sales"), await find(context, "sales~b")];
    await setWeights(em(), world.owner, a.id, { weights: { [a.id]: 0, [other.id]: 1 } });
    launchesOf(world.app).clear();
    for (const id of people.slice(0, 20)) expect((await get(context, "join", id)).headline).toBe(saw.get(id));
    expect((await get(context, "join", randomUUID())).headline).toBe("The other one");
    await expect(setWeights(em(), world.owner, a.id, { weights: { [a.id]: 0, [other.id]: 0 } })).rejects.toMatchObject({ code: "fields" });
  });
  it("are each seen in the editor, in a preview and by a private link, at the address of their page", async () => {
    const context = await tested();
    const other = await find(context, "sales~b");
    const everyone = { kind: "everyone" } as const;
    const fresh = (await loadLaunch(em(), { id: context.launch.id }))!;
    const facts = await proofFacts(world.app, em(), fresh, other, everyone, now());
    expect([facts.key, facts.address.slug, facts.words.title]).toEqual(["sales", "join", "The other one"]);
    expect((await previewDraft(world.app, em(), other.id, everyone, now()))!.body).toContain("The other one");
    const token = (await sharePreview(world.app, em(), world.owner, other.id, now())).split("/").pop();
    expect((await sharedPreview(world.app, em(), token))!.body).toContain("The other one");
    expect(gapsOf(fresh, other, other.draft, { launches: [], products: [] }).filter(({ code }) => code === "dead_end")).toEqual([]);
  });
  it("end with a winner that becomes the page, with the page as it was in its history", async () => {
    const context = await tested();
    const [page, other] = [await find(context, "sales"), await find(context, "sales~b")];
    expect([variantName(page), variantName(other)]).toEqual(["A", "B"]);
    await makeWinner(em(), world.owner, other.id, "V", now());
    launchesOf(world.app).clear();
    expect((await get(context, "join", randomUUID())).headline).toBe("The other one");
    expect(await em().count(Page, { variantOf: page.id })).toBe(0);
    expect((await versionsOf(em(), page.id)).length).toBeGreaterThan(1);
    expect(headlineOf((await find(context, "sales")).draft)).toBe("The other one");
  });
  it("are at most four, none of an order's pages, none that was never published wins, and nobody who only looks makes one", async () => {
    const context = await openLaunch(world, { offer: false });
    const page = await find(context, "closed");
    await expect(addVariant(em(), viewer(), page.id)).rejects.toMatchObject({ code: "not_allowed" });
    const made = [
      await addVariant(em(), world.owner, page.id),
      await addVariant(em(), world.owner, page.id),
      await addVariant(em(), world.owner, page.id),
    ];
    await expect(addVariant(em(), world.owner, page.id)).rejects.toMatchObject({ code: "enough_variants" });
    await expect(addVariant(em(), world.owner, (await find(context, "checkout")).id)).rejects.toMatchObject({ code: "one_version" });
    await expect(makeWinner(em(), world.owner, made[0]!.id, "V", now())).rejects.toMatchObject({ code: "never_published" });
    await dropVariant(em(), world.owner, made[1]!.id);
    expect(variantName(await addVariant(em(), world.owner, page.id))).toBe("C");
    await expect(dropVariant(em(), world.owner, page.id)).rejects.toMatchObject({ code: "not_found" });
  });
  it("count opt-ins on the page they were given on", async () => {
    const context = await openLaunch(world, { opensIn: 10, closesIn: 20, offer: false });
    const [ada, eva] = [randomUUID(), randomUUID()];
    for (const id of [ada, eva]) await get(context, "", id);
    await world.app.events.flush();
    const { email } = buyer();
    await optIn(em(), context, { email, answers: {} }, sentBy(ada, now()));
    // The second browser proves to be the same person: one person, who opted in.
    await optIn(em(), context, { email, answers: {} }, sentBy(eva, now()));
    expect(await pageFigures(em(), { launchId: context.launch.id, now: world.app.clock.now() })).toMatchObject([
      { page: "optin", variant: "A", people: 1, optedIn: 1 },
    ]);
  });
});

describe("a page's address", () => {
  it("may change: the old one leads on, with what was asked, also after a second move and back", async () => {
    const context = await openLaunch(world, { offer: false });
    const page = await find(context, "sales");
    const move = async (address: string) => {
      await changeAddress(em(), world.owner, page.id, { address }, now());
      launchesOf(world.app).clear();
    };
    await move("buy");
    await move("get-it");
    const old = await answerPage(world.app, { slug: context.launch.slug, path: "join", query: new URLSearchParams("utm=x") });
    expect([old.status, old.headers["location"]]).toEqual([301, `/l/${context.launch.slug}/get-it?utm=x`]);
    expect((await get(context, "buy")).headers["location"]).toBe(`/l/${context.launch.slug}/get-it`);
    await move("join");
    expect((await get(context, "join")).status).toBe(200);
    expect((await get(context, "get-it")).headers["location"]).toBe(`/l/${context.launch.slug}/join`);
    await expect(move("checkout")).rejects.toMatchObject({ faults: { address: { code: "address_in_use" } } });
    const root = await find(context, "optin");
    await expect(changeAddress(em(), world.owner, root.id, { address: "x" }, now())).rejects.toMatchObject({ code: "fields" });
    await expect(changeAddress(em(), viewer(), page.id, { address: "x" }, now())).rejects.toMatchObject({ code: "not_allowed" });
  });
  it("stands in the sitemap while everyone may read it, and an order's pages never do", async () => {
    const context = await openLaunch(world, { offer: true });
    const map = await sitemap(world.app);
    const urls = [...map.matchAll(/<loc>(.*?)<\/loc>/g)]
      .map(([, url]) => url!)
      .filter((url) => url.includes(`/l/${context.launch.slug}`) || url.endsWith(context.launch.slug));
    const base = `${world.app.config.origin}/l/${context.launch.slug}`;
    expect(urls).toContain(base);
    expect(urls).toContain(`${base}/join`);
    for (const path of ["checkout", "offer", "thank-you"]) expect(urls).not.toContain(`${base}/${path}`);
  });
});

describe("an upload", () => {
  const jpeg = (width: number, height: number) =>
    sharp({ create: { width, height, channels: 3, background: "#2A6090" } })
      .withExif({ IFD0: { Artist: "Secret Person" }, IFD3: { GPSLatitude: "38/1 42/1 0/1" } })
      .jpeg()
      .toBuffer();
  const asking = (headers: Record<string, string> = {}) => ({ method: "GET", headers: new Headers(headers) });
  const take = (name: string, body: Buffer) => upload(world.app, em(), world.owner, name, body, now());
  const says = (promise: Promise<unknown>) =>
    promise.then(
      () => "",
      (error: Refusal) => faultSentence(error.faults["file"]!),
    );

  it("comes out in modern formats and widths, and nothing of what its camera wrote is left", async () => {
    const media = await take("../../me at home.jpg", await jpeg(1300, 650));
    expect(media).toMatchObject({ kind: "picture", name: "me at home.jpg", width: 1300, height: 650, widths: [480, 960, 1300] });
    for (const width of media.widths) {
      for (const format of ["webp", "avif"]) {
        const answer = await answerMedia(world.app, mediaHref(media, `${width}.${format}`).replace("/media/", ""), asking());
        expect(answer.headers.get("cache-control")).toContain("immutable");
        const bytes = Buffer.from(await answer.arrayBuffer());
        const read = await sharp(bytes).metadata();
        expect([read.width, read.format === "heif" ? "avif" : read.format, read.exif]).toEqual([width, format, undefined]);
        expect(bytes.includes("Secret Person")).toBe(false);
      }
    }
    expect((await take("again.jpg", await jpeg(1300, 650))).id).toBe(media.id);
    expect(await changeMedia(em(), world.owner, media.id, { alt: "A blue field", focal: [0, 4] })).toMatchObject({
      alt: "A blue field",
      focal: [0, 4],
    });
    expect((await listMedia(em())).filter(({ id }) => id === media.id)).toHaveLength(1);
  });
  it("is a JPEG for emails, made when it is first asked for and kept: no see-through parts, and only in the widths that there are", async () => {
    const see = await sharp({ create: { width: 1200, height: 400, channels: 4, background: { r: 0, g: 0, b: 0, alpha: 0 } } })
      .png()
      .toBuffer();
    const media = await take("see-through.png", see);
    const name = mediaHref(media, "960.jpg").replace("/media/", "");
    const kept = () => em().execute("select sha256 from media_file where media_id = ? and name = '960.jpg'", [media.id]);
    expect(await kept()).toHaveLength(0);
    const [first, second] = await Promise.all([answerMedia(world.app, name, asking()), answerMedia(world.app, name, asking())]);
    expect(first.headers.get("content-type")).toBe("image/jpeg");
    const bytes = Buffer.from(await first.arrayBuffer());
    expect(Buffer.from(await second.arrayBuffer()).equals(bytes)).toBe(true);
    expect(await sharp(bytes).metadata()).toMatchObject({ format: "jpeg", width: 960, height: 320 });
    expect((await sharp(bytes).stats()).channels.every(({ min }) => min > 250)).toBe(true);
    expect(await kept()).toHaveLength(1);
    for (const other of ["961.jpg", "film.jpg", "0.jpg"])
      expect((await answerMedia(world.app, mediaHref(media, other).replace("/media/", ""), asking())).status).toBe(404);
  });
  it("is turned as its camera meant it", async () => {
    const turned = await sharp({ create: { width: 300, height: 100, channels: 3, background: "red" } })
      .withMetadata({ orientation: 6 })
      .jpeg()
      .toBuffer();
    expect(await take("turned.jpg", turned)).toMatchObject({ width: 100, height: 300 });
  });
  it("that is none is refused in words that help, and nothing is kept", async () => {
    const before = (await listMedia(em())).length;
    expect(await says(take("x.png", Buffer.from("MZ not a picture")))).toContain("no picture");
    expect(
      await says(take("x.svg", Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="90" height="90"><script>1</script></svg>'))),
    ).toContain("SVG");
    expect(await says(take("x.jpg", Buffer.alloc(0)))).toBe("The file is empty.");
    expect(await says(take("x.jpg", Buffer.concat([(await jpeg(900, 900)).subarray(0, 1500)])))).toMatch(/damaged/);
    expect(
      await says(
        take(
          "x.png",
          await sharp({ create: { width: 4, height: 4, channels: 3, background: "red" } })
            .png()
            .toBuffer(),
        ),
      ),
    ).toContain("too small");
    expect(await says(take("big.jpg", Buffer.concat([await jpeg(20, 20), Buffer.alloc(16 * 1024 * 1024)])))).toContain("15 MB is the most");
    expect((await listMedia(em())).length).toBe(before);
  });
  it("of a film answers ranges, a whole and what is unchanged (RFC 9110 §14)", async () => {
    const body = Buffer.concat([Buffer.from([0x1a, 0x45, 0xdf, 0xa3]), Buffer.from("0123456789")]);
    const film = await take("film.webm", body);
    expect(film).toMatchObject({ kind: "video", extension: "webm" });
    const ask = (headers: Record<string, string>) => answerMedia(world.app, `${film.hash}-film.webm`, asking(headers));
    const part = await ask({ range: "bytes=4-7" });
    expect([part.status, part.headers.get("content-range"), await part.text()]).toEqual([206, "bytes 4-7/14", "0123"]);
    expect(await (await ask({ range: "bytes=-3" })).text()).toBe("789");
    expect(await (await ask({ range: "bytes=10-" })).text()).toBe("6789");
    expect((await ask({ range: "bytes=99-" })).status).toBe(416);
    expect((await ask({})).headers.get("content-length")).toBe("14");
    expect((await ask({ "if-none-match": (await ask({})).headers.get("etag")! })).status).toBe(304);
    expect((await answerMedia(world.app, "../../etc/passwd", asking())).status).toBe(404);
  });
});

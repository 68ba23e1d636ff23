import { createHash, randomUUID } from "node:crypto";
import { strToU8, strFromU8, unzipSync, zipSync } from "fflate";
import sharp from "sharp";
import { bellEmail } from "../../src/core/emails";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { builder, firstBlock, idsFrom, mediaOf, pageOf, type PageContent } from "../../src/core/pages";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { loadLaunch } from "../../src/server/launch/launchContext";
import { makeBumpProduct } from "../../src/server/products/products";
import { exportLaunch, exportPage, exportTemplate, withExportFile, type Exported } from "../../src/server/start/exportFile";
import { importFile } from "../../src/server/start/importFile";
import { storeMedia } from "../../src/server/pages/media";
import { keepTemplate } from "../../src/server/pages/templates";
import { addVariant } from "../../src/server/pages/variants";
import { Page, PageTemplate, Product } from "../../src/store/tables";
import { openLaunch, publishAs, startWorld, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(async () => {
  await world.stop();
});

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const b = builder(idsFrom("b"));
const picture = async (colour: string) => {
  const body = await sharp({ create: { width: 700, height: 500, channels: 3, background: colour } })
    .png()
    .toBuffer();
  return storeMedia(world.app.files, em(), world.owner.id, `${colour}.png`, await world.app.files.take(body), now());
};
const bring = (body: Uint8Array, where: { launch: string; address: string } = { launch: "", address: "" }) =>
  importFile(world.app, em(), world.owner, Buffer.from(body), where, now());
const whole = async ({ name, body }: Exported) => ({ name, body: new Uint8Array(await new Response(body as never).arrayBuffer()) });

const launchWithAll = async (): Promise<LaunchContext> => {
  const first = await openLaunch(world, { offer: true });
  const shown = await picture("teal");
  await publishAs(world, first, "sales", pageOf([b.section([b.title("Sales"), b.picture({ media: shown.id, alt: "A square" }), b.price("Buy")])]));
  const checkout = await em().findOneOrFail(Page, { launchId: first.launch.id, kind: "checkout" });
  const paper = await makeBumpProduct(em(), world.owner, checkout.id, { name: "Paper", price: "17.00" }, new Date());
  const context = await publishAs(
    world,
    first,
    "checkout",
    pageOf([b.section([b.title("Order"), b.made("checkout", {}), b.made("bump", { product: paper.id })])]),
  );
  await em().nativeUpdate(
    Product,
    { id: context.product.id },
    {
      kind: "library",
      seats: 40,
      limitPerPerson: 2,
      prices: { USD: 16_900 },
      terms: { kind: "instalments", parts: 3, every: { unit: "month", n: 1 } },
    },
  );
  await addVariant(em(), world.owner, context.pages.find(({ kind }) => kind === "sales")!.id);
  return (await loadLaunch(em(), { id: first.launch.id }))!;
};

/** What a page says, without ids that are its own and those of what it shows. */
const said = (content: PageContent) => JSON.stringify(content).replace(/"(id|media|product)":"[^"]*"/g, '"$1":"·"');

const sha = (body: Uint8Array) => createHash("sha256").update(body).digest("hex");
/** An export file with some of its files changed; the manifest names them rightly unless it is given. */
const forged = (body: Uint8Array, change: (files: Record<string, Uint8Array>) => void, honest = true): Uint8Array => {
  const files = unzipSync(body);
  change(files);
  if (honest) {
    const manifest = JSON.parse(strFromU8(files["manifest.json"]!)) as { files: { path: string; bytes: number; sha256: string }[] };
    manifest.files = Object.entries(files)
      .filter(([path]) => path !== "manifest.json")
      .map(([path, one]) => ({ path, bytes: one.length, sha256: sha(one) }));
    files["manifest.json"] = strToU8(JSON.stringify(manifest));
  }
  return zipSync(files);
};
const content = (
  files: Record<string, Uint8Array>,
  change: (json: { launch: Record<string, never> & { pages: { content: PageContent }[] } }) => void,
) => {
  const json = JSON.parse(strFromU8(files["content.json"]!)) as never;
  change(json);
  files["content.json"] = strToU8(JSON.stringify(json));
};

describe("a whole launch", () => {
  it("comes back as it was saved: pages, versions, offers, bumps, time and look, all as drafts under an address of its own", async () => {
    const context = await launchWithAll();
    const { name, body } = await whole(await exportLaunch(world.app, em(), world.owner, context));
    expect(name).toBe(`${context.launch.slug}.launch.zip`);
    const { href } = await bring(body);
    const copy = (await loadLaunch(em(), { slug: href!.split("/")[2]! }))!;
    expect(copy.launch.slug).not.toBe(context.launch.slug);
    expect(copy.pages.every(({ published }) => published === null)).toBe(true);
    expect(copy.pages.map(({ key, kind, slug, draft }) => [key, kind, slug, said(draft)])).toEqual(
      context.pages.map(({ key, kind, slug, draft }) => [key, kind, slug, said(draft)]),
    );
    expect(copy.variants.map(({ key, weight }) => [key, weight])).toEqual(context.variants.map(({ key, weight }) => [key, weight]));
    expect(copy.launch.settings).toEqual(context.launch.settings);
    expect(copy.launch.look).toEqual(context.launch.look);
    expect(copy.product).toMatchObject({ name: "The Workshop", priceMinor: 14_900, kind: "library", seats: 40, limitPerPerson: 2 });
    const { terms, prices } = context.product;
    expect(terms.kind).toBe("instalments");
    expect(copy.product).toMatchObject({ terms, prices });
    const asked = await em().execute("select 1 from asked_price where product_id = ?", [copy.product.id]);
    expect(asked).toHaveLength(1);
    expect(copy.product.id).not.toBe(context.product.id);
    expect(copy.steps.map(({ product, page }) => [product.name, product.priceMinor, page.key])).toEqual(
      context.steps.map(({ product, page }) => [product.name, product.priceMinor, page.key]),
    );
    const bump = firstBlock(copy.pages.find(({ kind }) => kind === "checkout")!.draft, "bump")!;
    expect(bump.product).not.toBe(firstBlock(context.pages.find(({ kind }) => kind === "checkout")!.draft, "bump")!.product);
    // Saved again, it is the same file but for the ids of what was made anew.
    const again = await withExportFile(
      world.app.files,
      Buffer.from((await whole(await exportLaunch(world.app, em(), world.owner, copy))).body),
      (file) => Promise.resolve(file),
    );
    expect(again.kind).toBe("launch");
  });
  it("is read as version 1 of the file wrote it, with letters for emails and for variants", async () => {
    const context = await launchWithAll();
    const { body } = await whole(await exportLaunch(world.app, em(), world.owner, context));
    const old = forged(body, (files) => {
      content(files, ({ launch }) => {
        const of = launch as unknown as {
          settings: Record<string, unknown>;
          emails?: unknown;
          pages: { variants: Record<string, unknown>[] }[];
        };
        const { emails, ...settings } = of.settings;
        const letters = (emails as { id: string }[]).map((one) => ({ ...one, subject: `Old ${one.id}`, text: "One.\n\nTwo." }));
        of.settings = { ...settings, letters };
        delete of.emails;
        for (const page of of.pages) page.variants = page.variants.map(({ variant, ...rest }) => ({ ...rest, letter: variant }));
      });
      const manifest = JSON.parse(strFromU8(files["manifest.json"]!)) as object;
      files["manifest.json"] = strToU8(JSON.stringify({ ...manifest, version: 1 }));
    });
    const { href } = await bring(old);
    const copy = (await loadLaunch(em(), { slug: href!.split("/")[2]! }))!;
    expect(copy.launch.settings.emails.length).toBeGreaterThan(2);
    expect(copy.launch.settings).toEqual(context.launch.settings);
    // What emails said stood in those files beside when they go.
    for (const [id, { draft }] of copy.emails) expect(draft).toEqual(bellEmail(`Old ${id}`, "One.\n\nTwo."));
    expect([...copy.emails.keys()].sort()).toEqual([...context.emails.keys()].sort());
    expect(copy.variants.map(({ key }) => key)).toEqual(context.variants.map(({ key }) => key));
  });
  it("holds nobody's data: no address, no order, no person", async () => {
    const files = unzipSync((await whole(await exportLaunch(world.app, em(), world.owner, await launchWithAll()))).body);
    const content = strFromU8(files["content.json"]!);
    expect(content).not.toMatch(/@|password|hook/i);
  });
});

describe("a page and a template", () => {
  it("keep their pictures and their look in another launch", async () => {
    const context = await launchWithAll();
    const sales = context.pages.find(({ kind }) => kind === "sales")!;
    const other = await openLaunch(world, { offer: false });
    const { body } = await whole(await exportPage(world.app, em(), world.owner, sales.id));
    const { href } = await bring(body, { launch: other.launch.slug, address: "second/sales" });
    expect(href).toBe(`/desk/${other.launch.slug}/pages/second/sales`);
    const made = await em().findOneOrFail(Page, { launchId: other.launch.id, key: "second/sales" });
    expect(said({ ...made.draft, look: null })).toBe(said(sales.draft));
    expect(mediaOf(made.draft)).toEqual(mediaOf(sales.draft));
    expect(made.draft.look).toEqual(context.launch.look);
    await expect(bring(body, { launch: other.launch.slug, address: "second/sales" })).rejects.toMatchObject({
      faults: { address: { code: "address_in_use" } },
    });
  });
  it("of the vendor's own is a template again", async () => {
    const context = await launchWithAll();
    const kept = await keepTemplate(em(), world.owner, { page: context.pages[0]!.id, name: "Mine", purpose: "opt-in" }, now());
    const before = await em().count(PageTemplate, { name: "Mine" });
    await bring((await whole(await exportTemplate(world.app, em(), world.owner, kept.id))).body);
    expect(await em().count(PageTemplate, { name: "Mine" })).toBe(before + 1);
  });
  it("are brought in only by who may write", async () => {
    const { body } = await whole(await exportLaunch(world.app, em(), world.owner, await launchWithAll()));
    const viewer = { ...world.owner, role: "viewer" as const };
    await expect(importFile(world.app, em(), viewer, Buffer.from(body), { launch: "", address: "" }, now())).rejects.toMatchObject({ status: 403 });
  });
});

describe("a damaged or hostile file", () => {
  const tables = ["launch", "page", "product", "page_template", "media", "media_file", "path_step", "outbox"];
  const counts = async () => {
    const rows = await em().execute<Record<string, string>[]>(
      `select ${tables.map((name) => `(select count(*) from ${name}) as ${name}`).join(", ")}`,
    );
    return rows[0]!;
  };

  it("is refused in words, with nothing written", async () => {
    const { body } = await whole(await exportLaunch(world.app, em(), world.owner, await launchWithAll()));
    const bomb = zipSync({ "manifest.json": new Uint8Array(30 * 1024 * 1024) }, { level: 9 });
    const cut = body.slice(0, body.length - 40);
    const flipped = body.slice();
    flipped[Math.floor(body.length / 2)]! ^= 0xff;
    // The packed content begins behind the manifest: its first block says that it is of a kind that does not exist.
    const unpackable = body.slice();
    const packed = Buffer.from(body).indexOf("content.json") + "content.json".length;
    unpackable.fill(0xff, packed, packed + 16);
    // A zip whose directory lies about a size: more comes out than was said.
    const hostile: Record<string, Uint8Array> = {
      "no zip": strToU8("PK but not really"),
      empty: new Uint8Array(0),
      "cut short": cut,
      "a flipped bit": flipped,
      "a content that cannot be unpacked": unpackable,
      "a bomb": bomb,
      "no manifest": forged(body, (files) => delete files["manifest.json"], false),
      "a file that the manifest does not name": forged(body, (files) => (files["media/x.webp"] = strToU8("x")), false),
      "a path out of its folder": forged(body, (files) => (files["../../etc/cron.d/x"] = strToU8("x"))),
      "a damaged content": forged(body, (files) => (files["content.json"] = strToU8("{")), false),
      "a content that is no JSON": forged(body, (files) => (files["content.json"] = strToU8("{"))),
      "a newer version": forged(
        body,
        (files) => {
          files["manifest.json"] = strToU8(strFromU8(files["manifest.json"]!).replace(/"version": \d+/, '"version": 99'));
        },
        false,
      ),
      "a program in a link": forged(body, (files) =>
        content(files, ({ launch }) => {
          launch.pages[0]!.content.sections[0]!.blocks.push(b.button("x", { to: "outside", url: "javascript:alert(1)" }));
        }),
      ),
      "a tag in rich text": forged(body, (files) =>
        content(files, ({ launch }) => {
          launch.pages[0]!.content.sections[0]!.blocks.push({ ...b.text("x"), rich: { type: "doc", content: [{ type: "script" }] } } as never);
        }),
      ),
      "a picture that is none": forged(body, (files) => {
        const path = Object.keys(files).find((name) => name.startsWith("media/"))!;
        files[path] = strToU8("<svg xmlns='http://www.w3.org/2000/svg' onload='alert(1)'/>");
        content(files, (json) => ((json as unknown as { media: { id: string; name: string }[] }).media[0]!.id = randomUUID()));
      }),
      "a path that leads in a circle": forged(body, (files) =>
        content(files, ({ launch }) => ((launch as unknown as { path: { yes: string }[] }).path[0]!.yes = "offer")),
      ),
      "a negative price": forged(body, (files) =>
        content(files, ({ launch }) => ((launch as unknown as { products: { priceMinor: number }[] }).products[0]!.priceMinor = -5)),
      ),
      "times that do not fit": forged(body, (files) =>
        content(
          files,
          ({ launch }) => ((launch as unknown as { settings: { clock: { closes: string } } }).settings.clock.closes = "2001-01-01T00:00"),
        ),
      ),
      "two pages at one address": forged(body, (files) =>
        content(files, ({ launch }) => {
          launch.pages.push(launch.pages[0]!);
        }),
      ),
    };
    const before = await counts();
    for (const [what, file] of Object.entries(hostile)) {
      await expect(bring(file), what).rejects.toMatchObject({ status: 422, faults: { file: { code: expect.any(String) as string } } });
      expect(await counts(), what).toEqual(before);
    }
  });
});

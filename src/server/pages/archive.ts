import { createHash } from "node:crypto";
import { strToU8, strFromU8, unzipSync, zipSync, type Zippable } from "fflate";
import type { z } from "zod";
import {
  archiveContent,
  archiveFormat,
  archiveManifest,
  archiveVersion,
  letterOf,
  mediaOf,
  pageLeaves,
  type ArchiveContent,
  type ArchiveManifest,
  type PageContent,
} from "../../core/pages";
import { endPage, pathEnd } from "../../core/offers";
import { Media, Page, PageTemplate, Product } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { found, Refusal } from "../app/refusal";
import { loadBundle, type LaunchBundle } from "../launch/bundle";

const mib = 1024 * 1024;
/** The largest archive that is read, and the most that may come out of it. */
export const mostArchived = { zip: 200 * mib, unpacked: 400 * mib, json: 20 * mib };

const hashOf = (body: Uint8Array): string => createHash("sha256").update(body).digest("hex");

type MediaEntry = ArchiveContent["page"]["media"][number];

/** The uploads that pages name, each as the one file that the program would take in again. */
const packMedia = async (
  em: EntityManager,
  contents: PageContent[],
  more: (string | null)[],
): Promise<{ media: MediaEntry[]; files: Record<string, Uint8Array> }> => {
  const ids = [...new Set([...contents.flatMap((content) => [...mediaOf(content), content.look?.logo ?? null]), ...more])].filter(
    (id) => id !== null,
  );
  const rows = ids.length > 0 ? await em.find(Media, { id: { $in: ids } }, { orderBy: { id: 1 } }) : [];
  const media: MediaEntry[] = [];
  const files: Record<string, Uint8Array> = {};
  for (const row of rows) {
    const file =
      row.kind === "picture"
        ? `${row.widths.at(-1)!}.webp`
        : { video: `film.${row.extension}`, captions: "captions.vtt", file: `file.${row.extension}` }[row.kind];
    const [stored] = await em.execute<{ body: Buffer }[]>("select body from media_file where media_id = ? and name = ?", [row.id, file]);
    if (!stored) continue;
    const path = `media/${row.id}.${row.extension}`;
    files[path] = new Uint8Array(stored.body);
    media.push({ id: row.id, path, name: row.name, alt: row.alt, focal: [row.focalX, row.focalY] });
  }
  return { media, files };
};

const pack = <K extends ArchiveManifest["kind"]>(kind: K, content: ArchiveContent[K], files: Record<string, Uint8Array>): Uint8Array => {
  const all = { "content.json": strToU8(JSON.stringify(content, null, 1)), ...files };
  const manifest: ArchiveManifest = {
    ...{ format: archiveFormat, version: archiveVersion, kind },
    files: Object.entries(all).map(([path, body]) => ({ path, bytes: body.length, sha256: hashOf(body) })),
  };
  // A fixed time: the same pages make the same file.
  const opts = { mtime: new Date("2020-01-01T00:00:00Z") };
  const zipped: Zippable = { "manifest.json": [strToU8(JSON.stringify(manifest, null, 1)), opts] };
  for (const [path, body] of Object.entries(all)) zipped[path] = [body, { ...opts, level: path.endsWith(".json") ? 6 : 0 }];
  return zipSync(zipped);
};

/** A page's draft with its uploads, as a zip. */
export const exportPage = async (em: EntityManager, id: string): Promise<{ name: string; body: Uint8Array }> => {
  const page = found(await em.findOne(Page, { id }), "page");
  const { launch } = found(await loadBundle(em, { id: page.launchId }), "launch");
  const { media, files } = await packMedia(em, [page.draft], [launch.look.logo]);
  const slug = page.slug.replace(/~.*$/, "");
  const content = { page: { kind: page.kind, slug, content: page.draft }, look: launch.look, media };
  return { name: `${launch.slug}-${slug.replaceAll("/", "-") || page.kind}.page.zip`, body: pack("page", content, files) };
};

/** One of the vendor's own templates with its uploads, as a zip. */
export const exportTemplate = async (em: EntityManager, id: string): Promise<{ name: string; body: Uint8Array }> => {
  const { name, purpose, kind, content } = found(await em.findOne(PageTemplate, { id }), "template");
  const { media, files } = await packMedia(em, [content], []);
  const slug = name.toLowerCase().replace(/[^a-z0-9]+/g, "-") || "own";
  return { name: `${slug}.template.zip`, body: pack("template", { name, purpose, kind, content, media }, files) };
};

const pathOf = ({ steps, pages, laid }: LaunchBundle): ArchiveContent["launch"]["launch"]["path"] => {
  const pageKey = (id: string | undefined) => pages.find((page) => page.id === id)?.key;
  const keyOf = (to: string) => steps.find((step) => step.id === to)?.page.key ?? pageKey(endPage(to)) ?? pathEnd;
  // The first step of a path stands first in the file.
  const order = [...steps].sort((a, b) => Number(b.id === laid.path.first) - Number(a.id === laid.path.first));
  return order.map(({ page, productId, kind, sure, yesTo, noTo }) => ({
    page: page.key,
    product: productId,
    kind,
    sure,
    yes: keyOf(yesTo),
    no: keyOf(noTo),
  }));
};

/** A whole launch as a zip: its time, look, products, offer path, and all its pages as they stand at the desk. Nobody's data is in it. */
export const exportLaunch = async (em: EntityManager, bundle: LaunchBundle): Promise<{ name: string; body: Uint8Array }> => {
  const { launch, pages, variants, steps } = bundle;
  const contents = [...pages, ...variants].map(({ draft }) => draft);
  const { media, files } = await packMedia(em, contents, [launch.look.logo]);
  const inPages = contents.flatMap((content) =>
    pageLeaves(content).flatMap((leaf) => (leaf.type === "bump" || leaf.type === "addition" ? (leaf.product ?? []) : [])),
  );
  const ids = [launch.mainProductId, ...steps.map((step) => step.productId), ...inPages];
  const sold = await em.find(Product, { id: { $in: [...new Set(ids)] } });
  // What a bundle holds goes along with it.
  const products = await em.find(Product, { id: { $in: [...new Set([...ids, ...sold.flatMap(({ holds }) => holds)])] } }, { orderBy: { id: 1 } });
  const { name, zone, shape, settings, look, creditWindowDays, recoveryDelayMinutes, mainProductId: mainProduct } = launch;
  const content = {
    launch: {
      ...{ name, zone, shape, settings, look, creditWindowDays, recoveryDelayMinutes, mainProduct, path: pathOf(bundle) },
      products: products.map(({ id, name: called, privateLabel, description, taxClass, refundDays, priceMinor, currency, taxMode, ...rules }) => ({
        ...{ id, name: called, privateLabel, description, taxClass, refundDays, priceMinor, currency, taxMode, kind: rules.kind, alone: rules.alone },
        ...{ onSale: rules.onSale, limitPerPerson: rules.limitPerPerson ?? null, seats: rules.seats ?? null },
        ...{ terms: rules.terms, prices: rules.prices, chargeWhen: rules.chargeWhen, holds: rules.holds },
      })),
      pages: pages.map(({ id, key, kind, slug, draft }) => ({
        ...{ key, kind, slug, content: draft },
        variants: variants
          .filter(({ variantOf }) => variantOf === id)
          .map((one) => ({ letter: letterOf(one) as "B" | "C" | "D", weight: one.weight, content: one.draft })),
      })),
    },
    media,
  };
  return { name: `${launch.slug}.launch.zip`, body: pack("launch", content, files) };
};

const refuse = (message: string): never => {
  throw new Refusal(422, "fields", `${message} Nothing was brought in.`, { file: message });
};

/** An archive that was read: every file is there, is what the manifest says, and the content fits. */
export type Archive = {
  [K in ArchiveManifest["kind"]]: { kind: K; content: ArchiveContent[K]; files: Map<string, Buffer> };
}[ArchiveManifest["kind"]];

const json = (body: Uint8Array, what: string): unknown => {
  try {
    return JSON.parse(strFromU8(body));
  } catch {
    return refuse(`The ${what} of the file cannot be read.`);
  }
};

const fits = <T>(schema: z.ZodType<T>, value: unknown): T => {
  const read = schema.safeParse(value);
  if (read.success) return read.data;
  const { path, message } = read.error.issues[0]!;
  return refuse(`The file does not fit at ${path.slice(0, 8).join(".") || "its top"}: ${message}`);
};

/**
 * Reads an archive, in memory and with limits: what it says it unpacks to is believed for refusing only, never for
 * room, and no path of it becomes a path of this machine. Throws a refusal that says what is wrong.
 */
export const readArchive = (body: Uint8Array): Archive => {
  if (body.length > mostArchived.zip) refuse("The file weighs more than 200 MB.");
  let unpacked = 0;
  let listed = 0;
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(body, {
      filter: ({ name, originalSize }) => {
        unpacked += originalSize;
        listed += 1;
        if (listed > 2_001 || unpacked > mostArchived.unpacked) refuse("The file unpacks to more than may be read.");
        if (name.endsWith(".json") && originalSize > mostArchived.json) refuse("The file unpacks to more than may be read.");
        return true;
      },
    });
  } catch (error) {
    if (error instanceof Refusal) throw error;
    return refuse("This is no zip file, or it is damaged.");
  }
  const first = files["manifest.json"] ?? refuse("The file has no manifest.");
  const manifest = fits(archiveManifest, json(first, "manifest"));
  const named = new Set(["manifest.json", ...manifest.files.map(({ path }) => path)]);
  if (named.size !== manifest.files.length + 1) refuse("The manifest names a file twice.");
  if (Object.keys(files).some((path) => !named.has(path))) refuse("The file holds more than its manifest names.");
  for (const { path, bytes, sha256 } of manifest.files) {
    const one = files[path] ?? refuse(`${path} is missing.`);
    if (one.length !== bytes || hashOf(one) !== sha256) refuse(`${path} is damaged.`);
  }
  const content = json(files["content.json"] ?? refuse("content.json is missing."), "content");
  const { kind } = manifest;
  const read = fits<ArchiveContent[typeof kind]>(archiveContent[kind] as never, content);
  const missing = read.media.find(({ path }) => !named.has(path));
  if (missing) refuse(`${missing.path} is missing.`);
  return { kind, content: read, files: new Map(read.media.map(({ path }) => [path, Buffer.from(files[path]!)])) } as Archive;
};

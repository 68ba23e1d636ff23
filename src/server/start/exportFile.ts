import { type Fault, faultOf } from "../../core/words";
import { createHash } from "node:crypto";
import { readFile } from "node:fs/promises";
import { Readable, Transform } from "node:stream";
import type { ReadableStream } from "node:stream/web";
import { strToU8, Zip, ZipDeflate, ZipPassThrough } from "fflate";
import { openPromise } from "yauzl";
import type { z } from "zod";
import { exportContent, exportFormat, exportManifest, exportVersion, type ExportContent, type ExportManifest } from "../../core/start";
import { variantName, withoutVariant, mediaOf, pageLeaves, type PageContent } from "../../core/pages";
import { endPage, pathEnd } from "../../core/offers";
import { fileOfMedia } from "../../store/pages/mediaFile";
import { Media, Page, PageTemplate, Product, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import type { FileStore, Incoming } from "../../outside/fileStore";
import { wholeExportFile } from "../../contract/endpoint";
import { type App, Refusal, mustBeAllowed, required, wrongField, wrongFields } from "../platform";
import { type LaunchContext, loadLaunch } from "../launch";

const mib = 1024 * 1024;
/** The largest export file that is read, and the most that may come out of it. */
export const mostExported = { zip: wholeExportFile, unpacked: 400 * mib, json: 20 * mib };

const hashOf = (body: Uint8Array): string => createHash("sha256").update(body).digest("hex");

type MediaEntry = ExportContent["page"]["media"][number];

/** A file of an export file that lies in the store. */
interface Stored {
  path: string;
  sha256: string;
  bytes: number;
}

/** The uploads that pages name, each as the one file that the program would take in again. */
const packMedia = async (em: EntityManager, contents: PageContent[], more: (string | null)[]): Promise<{ media: MediaEntry[]; stored: Stored[] }> => {
  const ids = [...new Set([...contents.flatMap((content) => [...mediaOf(content), content.look?.logo ?? null]), ...more])].filter(
    (id) => id !== null,
  );
  const rows = ids.length > 0 ? await em.find(Media, { id: { $in: ids } }, { orderBy: { id: 1 } }) : [];
  const media: MediaEntry[] = [];
  const stored: Stored[] = [];
  for (const row of rows) {
    const file =
      row.kind === "picture"
        ? `${row.widths.at(-1)!}.webp`
        : { video: `film.${row.extension}`, captions: "captions.vtt", file: `file.${row.extension}` }[row.kind];
    const kept = await fileOfMedia(em, row.hash, file);
    if (!kept) continue;
    const path = `media/${row.id}.${row.extension}`;
    stored.push({ path, ...kept });
    media.push({ id: row.id, path, name: row.name, alt: row.alt, focal: [row.focalX, row.focalY] });
  }
  return { media, stored };
};

// A fixed time: the same pages make the same file.
const mtime = new Date("2020-01-01T00:00:00Z");

/** A zip that is written while it is read: documents are packed, uploads go in as they are, one after the other. */
const zipStream = (documents: Record<string, string>, stored: readonly Stored[], files: FileStore): ReadableStream<Uint8Array> => {
  async function* parts(): AsyncGenerator<Uint8Array> {
    const ready: Uint8Array[] = [];
    const zip = new Zip((error, data) => {
      if (error) throw error;
      ready.push(data);
    });
    const drained = () => ready.splice(0);
    for (const [path, text] of Object.entries(documents)) {
      const entry = new ZipDeflate(path, { level: 6 });
      entry.mtime = mtime;
      zip.add(entry);
      entry.push(strToU8(text), true);
      yield* drained();
    }
    for (const { path, sha256 } of stored) {
      const entry = new ZipPassThrough(path);
      entry.mtime = mtime;
      zip.add(entry);
      for await (const chunk of files.read(sha256)) {
        entry.push(new Uint8Array(chunk as Buffer));
        yield* drained();
      }
      entry.push(new Uint8Array(0), true);
      yield* drained();
    }
    zip.end();
    yield* drained();
  }
  return Readable.toWeb(Readable.from(parts())) as ReadableStream<Uint8Array>;
};

const pack = <K extends ExportManifest["kind"]>(
  kind: K,
  content: ExportContent[K],
  stored: readonly Stored[],
  files: FileStore,
): ReadableStream<Uint8Array> => {
  const json = JSON.stringify(content, null, 1);
  const bytes = strToU8(json);
  const manifest: ExportManifest = {
    format: exportFormat,
    version: exportVersion,
    kind,
    files: [{ path: "content.json", bytes: bytes.length, sha256: hashOf(bytes) }, ...stored],
  };
  return zipStream({ "manifest.json": JSON.stringify(manifest, null, 1), "content.json": json }, stored, files);
};

/** A file for somebody to keep: its name, and its bytes as they are made. */
export interface Exported {
  name: string;
  type: "application/zip";
  body: ReadableStream<Uint8Array>;
}

/** A page's draft with its uploads, as a zip. */
export const exportPage = async ({ files }: Pick<App, "files">, em: EntityManager, user: DeskUser, id: string): Promise<Exported> => {
  mustBeAllowed(user, "launch.export");
  const page = required(await em.findOne(Page, { id }), "page");
  const { launch } = required(await loadLaunch(em, { id: page.launchId }), "launch");
  const { media, stored } = await packMedia(em, [page.draft], [launch.look.logo]);
  const slug = page.slug.replace(/~.*$/, "");
  const content = { page: { kind: page.kind, slug, content: page.draft }, look: launch.look, media };
  return {
    name: `${launch.slug}-${slug.replaceAll("/", "-") || page.kind}.page.zip`,
    type: "application/zip",
    body: pack("page", content, stored, files),
  };
};

/** One of the vendor's own templates with its uploads, as a zip. */
export const exportTemplate = async ({ files }: Pick<App, "files">, em: EntityManager, user: DeskUser, id: string): Promise<Exported> => {
  mustBeAllowed(user, "launch.export");
  const { name, purpose, kind, content } = required(await em.findOne(PageTemplate, { id }), "template");
  const { media, stored } = await packMedia(em, [content], []);
  const slug = name.toLowerCase().replace(/[^a-z0-9]+/g, "-") || "own";
  return { name: `${slug}.template.zip`, type: "application/zip", body: pack("template", { name, purpose, kind, content, media }, stored, files) };
};

const pathOf = ({ steps, pages, savedPath }: LaunchContext): ExportContent["launch"]["launch"]["path"] => {
  const pageKey = (id: string | undefined) => pages.find((page) => page.id === id)?.key;
  const keyOf = (to: string) => steps.find((step) => step.id === to)?.page.key ?? pageKey(endPage(to)) ?? pathEnd;
  // The first step of a path stands first in the file.
  const order = [...steps].sort((a, b) => Number(b.id === savedPath.path.first) - Number(a.id === savedPath.path.first));
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
export const exportLaunch = async ({ files }: Pick<App, "files">, em: EntityManager, user: DeskUser, context: LaunchContext): Promise<Exported> => {
  mustBeAllowed(user, "launch.export");
  const { launch, pages, variants, steps, emails } = context;
  const contents = [...pages, ...variants].map(({ draft }) => draft);
  // What goes once is over when it has gone, and the file says when emails go; a variant that is tested is of this launch alone.
  const written = [...emails]
    .filter(([key]) => !context.oneOffs.has(withoutVariant(key)) && key === withoutVariant(key))
    .map(([key, { draft }]) => [key, draft] as const);
  const inEmails = written.flatMap(([, content]) => mediaOf(content));
  const { media, stored } = await packMedia(em, contents, [launch.look.logo, ...inEmails]);
  const inPages = contents.flatMap((content) =>
    pageLeaves(content).flatMap((leaf) => (leaf.type === "bump" || leaf.type === "addition" ? (leaf.product ?? []) : [])),
  );
  const ids = [launch.mainProductId, ...steps.map((step) => step.productId), ...inPages];
  const sold = await em.find(Product, { id: { $in: [...new Set(ids)] } });
  // What a bundle holds goes along with it.
  const products = await em.find(
    Product,
    { id: { $in: [...new Set([...ids, ...sold.flatMap(({ contents }) => contents)])] } },
    { orderBy: { id: 1 } },
  );
  const { name, zone, shape, settings, look, creditWindowDays, recoveryDelayMinutes, mainProductId: mainProduct } = launch;
  const content = {
    launch: {
      name,
      zone,
      shape,
      settings,
      look,
      creditWindowDays,
      recoveryDelayMinutes,
      mainProduct,
      emails: Object.fromEntries(written),
      path: pathOf(context),
      products: products.map(({ id, name: called, privateLabel, description, taxClass, refundDays, priceMinor, currency, taxMode, ...rules }) => ({
        id,
        name: called,
        privateLabel,
        description,
        taxClass,
        refundDays,
        priceMinor,
        currency,
        taxMode,
        kind: rules.kind,
        alone: rules.alone,
        onSale: rules.onSale,
        limitPerPerson: rules.limitPerPerson ?? null,
        seats: rules.seats ?? null,
        terms: rules.terms,
        prices: rules.prices,
        chargeWhen: rules.chargeWhen,
        holds: rules.contents,
      })),
      pages: pages.map(({ id, key, kind, slug, draft }) => ({
        key,
        kind,
        slug,
        content: draft,
        variants: variants
          .filter(({ variantOf }) => variantOf === id)
          .map((one) => ({ variant: variantName(one) as "B" | "C" | "D", weight: one.weight, content: one.draft })),
      })),
    },
    media,
  };
  return { name: `${launch.slug}.launch.zip`, type: "application/zip", body: pack("launch", content, stored, files) };
};

const refuse = (fault: Fault): never => {
  throw wrongField("nothing_imported", "file", fault);
};

/** An export file that was read: every file is there, is what the manifest says, and the content fits. */
export type ExportFile = {
  [K in ExportManifest["kind"]]: { kind: K; content: ExportContent[K]; files: Map<string, Incoming> };
}[ExportManifest["kind"]];

const json = (body: Buffer, what: string): unknown => {
  try {
    return JSON.parse(body.toString("utf8"));
  } catch {
    return refuse({ code: "part_unreadable", part: what });
  }
};

const fits = <T>(schema: z.ZodType<T>, value: unknown): T => {
  const read = schema.safeParse(value);
  if (read.success) return read.data;
  const issue = read.error.issues[0]!;
  const fault = faultOf(issue);
  const at = issue.path.slice(0, 8).join(".") || "its top";
  if (fault.code === "not_an_export" || fault.code === "newer_export") return refuse(fault);
  throw wrongFields("nothing_imported", { file: { code: "file_does_not_fit", at }, [at]: fault });
};

/** Lets bytes through until they are more than may be read: what an export file says of its sizes is not believed. */
const counted = (room: { left: number }, most: number): Transform => {
  let own = 0;
  return new Transform({
    transform(chunk: Buffer, _encoding, done) {
      own += chunk.length;
      room.left -= chunk.length;
      if (room.left < 0 || own > most) done(tooMuch());
      else done(undefined, chunk);
    },
  });
};
const tooMuch = (): Refusal => wrongField("nothing_imported", "file", { code: "file", why: "unpacked_large" });

/** Takes the files of a zip in, each into a file of its own whose name here has nothing to do with its name there. */
const unpack = async (store: FileStore, { path }: Incoming, taken: Map<string, Incoming>): Promise<void> => {
  const room = { left: mostExported.unpacked };
  const zip = await openPromise(path, { strictFileNames: true });
  try {
    for await (const entry of zip.eachEntry()) {
      if (taken.size > 2_000) throw tooMuch();
      const name = entry.fileName;
      if (taken.has(name)) refuse({ code: "part_twice", part: name });
      const most = name.endsWith(".json") ? mostExported.json : mostExported.unpacked;
      const source = (await zip.openReadStreamPromise(entry)).on("error", (error) => limit.destroy(error));
      const limit = counted(room, most);
      taken.set(name, await store.take(source.pipe(limit)));
    }
  } finally {
    zip.close();
  }
};

const contentOf = ({ path }: Incoming): Promise<Buffer> => readFile(path);

/** What an unpacked export file holds. Throws a refusal that says what is wrong. */
const readUnpacked = async (files: ReadonlyMap<string, Incoming>): Promise<ExportFile> => {
  const first = files.get("manifest.json") ?? refuse({ code: "file", why: "no_manifest" });
  const manifest = fits(exportManifest, json(await contentOf(first), "manifest"));
  const named = new Set(["manifest.json", ...manifest.files.map(({ path }) => path)]);
  if (named.size !== manifest.files.length + 1) refuse({ code: "file", why: "named_twice" });
  if ([...files.keys()].some((path) => !named.has(path))) refuse({ code: "file", why: "more_than_named" });
  for (const { path, bytes, sha256 } of manifest.files) {
    const one = files.get(path) ?? refuse({ code: "part_missing", part: path });
    if (one.bytes !== bytes || one.sha256 !== sha256) refuse({ code: "part_damaged", part: path });
  }
  const content = json(await contentOf(files.get("content.json") ?? refuse({ code: "part_missing", part: "content.json" })), "content");
  const { kind } = manifest;
  const read = fits<ExportContent[typeof kind]>(exportContent[kind] as never, content);
  const missing = read.media.find(({ path }) => !named.has(path));
  if (missing) refuse({ code: "part_missing", part: missing.path });
  return { kind, content: read, files: new Map(read.media.map(({ path }) => [path, files.get(path)!])) } as ExportFile;
};

/**
 * Reads an export file as it comes in, and has something done with it. It is unpacked beside the thread that answers pages,
 * with limits that count what really comes out, and no path of it becomes a path of this machine. What was taken in is
 * gone afterwards, but for what was kept. Throws a refusal that says what is wrong.
 */
export const withExportFile = async <T>(store: FileStore, body: Readable | Buffer, use: (file: ExportFile) => Promise<T>): Promise<T> => {
  const zip = await store.take(body);
  const taken = new Map<string, Incoming>();
  try {
    if (zip.bytes > mostExported.zip) refuse({ code: "file", why: "zip_large" });
    try {
      await unpack(store, zip, taken);
    } catch (error) {
      if (error instanceof Refusal) throw error;
      refuse({ code: "file", why: "not_a_zip" });
    }
    return await use(await readUnpacked(taken));
  } finally {
    for (const one of [zip, ...taken.values()]) await store.drop(one);
  }
};

import { type Fault } from "../../core/words";
import type { BodyOf } from "../../contract/endpoint";
import type * as contract from "../../contract/pages";
import { fileOfMedia, type FileOfMedia } from "../../store/pages/mediaFile";
import { randomUUID } from "node:crypto";
import type { Readable } from "node:stream";
import sharp from "sharp";
import { widthsFor, type Media as MediaFacts } from "../../core/pages";
import { Media, type DeskUser, MediaFile } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import type { FileStore, Incoming } from "../../outside/fileStore";
import { wholeUpload } from "../../contract/endpoint";
import { type App, mustBeAllowed, required, wrongField } from "../platform";
import { mediaFacts } from "./compileFor";
import { mailPicture } from "./mailPicture";

const mib = 1024 * 1024;
/** The largest uploads: a picture, a film, a file with captions. */
export const mostBytes = { picture: 15 * mib, video: wholeUpload, captions: mib, file: 60 * mib };
const mostPixels = 60_000_000;

const refuse = (fault: Fault): never => {
  throw wrongField("nothing_saved", "file", fault);
};
const startsWith = (head: Buffer, at: number, text: string) => head.subarray(at, at + text.length).toString("latin1") === text;

interface Kept {
  kind: MediaFacts["kind"];
  width: number;
  height: number;
  widths: number[];
  extension: string;
  files: { name: string; file: Incoming }[];
}

/** A picture in its widths and formats, turned as its camera meant it, without what its camera wrote into it. */
const keepPicture = async (store: FileStore, { path, bytes }: Incoming): Promise<Kept> => {
  if (bytes > mostBytes.picture) refuse({ code: "picture_large", megabytes: Math.ceil(bytes / mib), most: 15 });
  const read = async () => {
    const image = sharp(path, { limitInputPixels: mostPixels, failOn: "error" });
    const { format, width, height, orientation, pages } = await image.metadata();
    return { format, width, height, pages, turned: (orientation ?? 1) >= 5 };
  };
  const { format, width, height, turned } = await read().catch(() => refuse({ code: "file", why: "damaged_picture" }));
  if (!["jpeg", "png", "webp", "heif", "gif"].includes(format ?? "")) refuse({ code: "file", why: format === "svg" ? "svg" : "other_picture" });
  const [wide, high] = turned ? [height, width] : [width, height];
  if (wide < 16 || high < 16) refuse({ code: "picture_small", width: wide, height: high });
  const widths = widthsFor(wide);
  // Written anew, so nothing of the old file is left: no place, no camera, no thumbnail.
  const made = await Promise.all(
    widths.flatMap((to) => {
      const sized = () => sharp(path, { limitInputPixels: mostPixels }).rotate().resize({ width: to });
      return [
        sized()
          .webp({ quality: 80 })
          .toBuffer()
          .then(async (body) => ({ name: `${to}.webp`, file: await store.take(body) })),
        sized()
          .avif({ quality: 52, effort: 2 })
          .toBuffer()
          .then(async (body) => ({ name: `${to}.avif`, file: await store.take(body) })),
      ];
    }),
  ).catch(() => refuse({ code: "file", why: "half_a_picture" }));
  const largest = widths.at(-1)!;
  return { kind: "picture", width: largest, height: Math.round((high * largest) / wide), widths, extension: "webp", files: made };
};

const keepVideo = (file: Incoming, extension: string): Kept => {
  if (file.bytes > mostBytes.video) refuse({ code: "video_large", megabytes: Math.ceil(file.bytes / mib), most: 80 });
  return { kind: "video", width: 0, height: 0, widths: [], extension, files: [{ name: `film.${extension}`, file }] };
};

/** What an upload is, by its first bytes: names and types that come along are not believed. */
const keep = async (store: FileStore, file: Incoming): Promise<Kept> => {
  const { head, bytes } = file;
  if (bytes === 0) refuse({ code: "file", why: "empty" });
  if (startsWith(head, 4, "ftyp") && !["avif", "avis", "heic", "mif1"].includes(head.subarray(8, 12).toString("latin1")))
    return keepVideo(file, "mp4");
  if (head.subarray(0, 4).equals(Buffer.from([0x1a, 0x45, 0xdf, 0xa3]))) return keepVideo(file, "webm");
  if (startsWith(head, 0, "WEBVTT") || startsWith(head, 3, "WEBVTT")) {
    if (bytes > mostBytes.captions) refuse({ code: "file", why: "captions_large" });
    return { kind: "captions", width: 0, height: 0, widths: [], extension: "vtt", files: [{ name: "captions.vtt", file }] };
  }
  const document = startsWith(head, 0, "%PDF-") ? "pdf" : startsWith(head, 0, "PK\u0003\u0004") ? "zip" : undefined;
  if (document) {
    if (bytes > mostBytes.file) refuse({ code: "file", why: "file_large" });
    return { kind: "file", width: 0, height: 0, widths: [], extension: document, files: [{ name: `file.${document}`, file }] };
  }
  return keepPicture(store, file);
};

const nameOf = (name: string): string =>
  name
    .replace(/^.*[\\/]/, "")
    .replace(/[\u0000-\u001f]/g, "")
    .slice(0, 120) || "upload";

/** Keeps an upload as it comes in. The same bytes again are the same upload. Refuses with words that say what to do. */
export const upload = async (
  { files }: Pick<App, "files">,
  em: EntityManager,
  user: Pick<DeskUser, "id" | "role">,
  name: string,
  body: Readable | Buffer,
  now: Date,
): Promise<MediaFacts> => {
  mustBeAllowed(user, "page.edit");
  return storeMedia(files, em, user.id, name, await files.take(body), now);
};

/** Makes the files of an upload and writes them down, all or nothing. What was taken in is kept, or dropped. */
export const storeMedia = async (
  store: FileStore,
  em: EntityManager,
  userId: string | null,
  name: string,
  incoming: Incoming,
  now: Date,
): Promise<MediaFacts> => {
  const made: Incoming[] = [incoming];
  try {
    const hash = incoming.sha256.slice(0, 24);
    const known = await em.findOne(Media, { hash });
    if (known) return mediaFacts(known);
    const { files, ...kept } = await keep(store, incoming);
    made.push(...files.map(({ file }) => file));
    // The bytes first: a row must not name what is not there.
    for (const { file } of files) await store.keep(file);
    return await em.transactional(async (tx) => {
      const media = tx.create(Media, {
        ...kept,
        id: randomUUID(),
        name: nameOf(name),
        hash,
        alt: "",
        focalX: 2,
        focalY: 2,
        bytes: files.reduce((sum, { file }) => sum + file.bytes, 0),
        createdAt: now,
        createdBy: userId,
      });
      await tx.persist(media).flush();
      const rows = files.map(({ name: file, file: { sha256, bytes } }) => ({ mediaId: media.id, name: file, sha256, bytes }));
      await tx.insertMany(MediaFile, rows);
      return mediaFacts(media);
    });
  } finally {
    for (const one of made) await store.drop(one);
  }
};

/** All uploads, the latest first. */
export const listMedia = async (em: EntityManager): Promise<MediaFacts[]> =>
  (await em.find(Media, {}, { orderBy: { createdAt: -1, id: 1 }, limit: 500 })).map(mediaFacts);

/** Changes the words of a picture, or what of it stays in sight. Pages that were published keep what they had until they are published again. */
export const changeMedia = async (
  em: EntityManager,
  user: DeskUser,
  id: string,
  { alt, focal }: BodyOf<typeof contract.changeMedia>,
): Promise<MediaFacts> => {
  mustBeAllowed(user, "page.edit");
  const media = required(await em.findOne(Media, { id }), "upload");
  Object.assign(media, { ...(alt === undefined ? {} : { alt }), ...(focal ? { focalX: focal[0], focalY: focal[1] } : {}) });
  await em.flush();
  return mediaFacts(media);
};

/** One file of an upload, by its public name (`<hash>-<file>`); a picture for emails is made when it is first asked for. */
export const mediaFile = async (store: FileStore, em: EntityManager, name: string): Promise<FileOfMedia | undefined> => {
  const [, hash, file] = /^([0-9a-f]{24})-([a-z0-9.]+)$/.exec(name) ?? [];
  if (!hash || !file) return undefined;
  const [, width] = /^([0-9]{2,4})\.jpg$/.exec(file) ?? [];
  return (await fileOfMedia(em, hash, file)) ?? (width ? mailPicture(store, em, hash, Number(width)) : undefined);
};

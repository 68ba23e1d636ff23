import type { Readable } from "node:stream";
import { buffer } from "node:stream/consumers";
import sharp from "sharp";
import { fileOfMedia, keepFileOfMedia, type FileOfMedia } from "../../store/pages/mediaFile";
import type { EntityManager } from "../../store/orm";
import type { FileStore } from "../../outside/fileStore";

const asJpeg = (webp: Readable): Promise<Buffer> =>
  // A JPEG has no see-through parts: they become white, as paper is.
  buffer(webp).then((bytes) => sharp(bytes).flatten({ background: "#ffffff" }).jpeg({ quality: 82 }).toBuffer());

/**
 * A picture as mail programs hold it, some of which know no WebP: the JPEG of one of its widths (`960.jpg`), made from the WebP when it is first asked for
 * and kept beside it. Undefined where there is no such picture. Two who ask at once make it twice, and keep it once.
 */
export const mailPicture = async (store: FileStore, em: EntityManager, hash: string, width: number): Promise<FileOfMedia | undefined> => {
  const webp = await fileOfMedia(em, hash, `${width}.webp`);
  if (!webp) return undefined;
  const jpeg = await store.take(await asJpeg(store.read(webp.sha256)));
  try {
    // The bytes first: a row must not name what is not there.
    await store.keep(jpeg);
    await keepFileOfMedia(em, hash, `${width}.jpg`, jpeg);
  } finally {
    await store.drop(jpeg);
  }
  return { sha256: jpeg.sha256, bytes: jpeg.bytes };
};

import { createHash, randomUUID } from "node:crypto";
import { createReadStream, createWriteStream, mkdirSync } from "node:fs";
import { access, mkdir, open, rename, rm } from "node:fs/promises";
import { join } from "node:path";
import { Readable, Transform } from "node:stream";
import { pipeline } from "node:stream/promises";

/** Bytes that were taken in and are not kept yet: a file of its own, with what can be known of it by reading it once. */
export interface Incoming {
  path: string;
  bytes: number;
  /** SHA-256 (FIPS 180-4), hexadecimal. */
  sha256: string;
  /** Its first bytes, 64 at most: they tell what it is. */
  head: Buffer;
}

/** Where the bytes of uploads lie. A file is named by its hash and never changes; the same bytes are kept once. */
export interface FileStore {
  /** Takes bytes in as they come. Fails where the source fails; nothing of it is left then. */
  take(source: Readable | Buffer): Promise<Incoming>;
  /** Keeps what was taken in, under its hash. */
  keep(incoming: Incoming): Promise<void>;
  /** Forgets what was taken in and is not kept. */
  drop(incoming: Incoming): Promise<void>;
  /** The bytes of a kept file, or a part of them: both ends are included. */
  read(sha256: string, part?: { from: number; to: number }): Readable;
  /** Whether a file is kept. */
  has(sha256: string): Promise<boolean>;
}

const headBytes = 64;

/** A store in a folder of this machine, which all processes of the app share. */
export const diskFiles = (folder: string): FileStore => {
  const incoming = join(folder, "incoming");
  const placeOf = (sha256: string): string => {
    if (!/^[0-9a-f]{64}$/.test(sha256)) throw new Error("A file is named by a SHA-256 in hexadecimal.");
    return join(folder, sha256.slice(0, 2), sha256);
  };
  const has = (sha256: string): Promise<boolean> =>
    access(placeOf(sha256)).then(
      () => true,
      () => false,
    );
  return {
    has,
    async take(source) {
      // Nothing is awaited before the pipeline listens: a source that fails meanwhile would take the whole process down.
      mkdirSync(incoming, { recursive: true });
      const path = join(incoming, randomUUID());
      const hash = createHash("sha256");
      let bytes = 0;
      let head = Buffer.alloc(0);
      const look = new Transform({
        transform(chunk: Buffer, _encoding, done) {
          hash.update(chunk);
          bytes += chunk.length;
          if (head.length < headBytes) head = Buffer.concat([head, chunk.subarray(0, headBytes - head.length)]);
          done(undefined, chunk);
        },
      });
      try {
        await pipeline(Buffer.isBuffer(source) ? Readable.from([source]) : source, look, createWriteStream(path, { flags: "wx", mode: 0o600 }));
      } catch (error) {
        await rm(path, { force: true });
        throw error;
      }
      return { path, bytes, sha256: hash.digest("hex"), head };
    },
    async keep({ path, sha256 }) {
      const place = placeOf(sha256);
      if (await has(sha256)) return void (await rm(path, { force: true }));
      await mkdir(join(place, ".."), { recursive: true });
      // On the disk before the database says that it is there.
      const file = await open(path, "r+");
      await file.sync();
      await file.close();
      await rename(path, place);
    },
    drop: ({ path }) => rm(path, { force: true }),
    read: (sha256, part) => createReadStream(placeOf(sha256), part ? { start: part.from, end: part.to } : {}),
  };
};

import type { EntityManager } from "../orm";

/** A file of an upload, by the upload's hash and its own name: where it lies in the store, and its size in bytes. */
export const fileOfMedia = async (em: EntityManager, hash: string, name: string): Promise<{ sha256: string; bytes: number } | undefined> => {
  const [row] = await em.execute<{ sha256: string; bytes: string }[]>(
    "select f.sha256, f.bytes from media_file f join media m on m.id = f.media_id where m.hash = ? and f.name = ? and f.sha256 is not null",
    [hash, name],
  );
  return row && { sha256: row.sha256, bytes: Number(row.bytes) };
};

import type { EntityManager } from "../orm";

/** Where a file of an upload lies in the store, and its size in bytes. */
export interface FileOfMedia {
  sha256: string;
  bytes: number;
}

/** A file of an upload, by the upload's hash and its own name. */
export const fileOfMedia = async (em: EntityManager, hash: string, name: string): Promise<FileOfMedia | undefined> => {
  const [row] = await em.execute<{ sha256: string; bytes: string }[]>(
    "select f.sha256, f.bytes from media_file f join media m on m.id = f.media_id where m.hash = ? and f.name = ? and f.sha256 is not null",
    [hash, name],
  );
  return row && { sha256: row.sha256, bytes: Number(row.bytes) };
};

/** Writes down one file more of an upload; one that is there already stays. */
export const keepFileOfMedia = async (em: EntityManager, hash: string, name: string, { sha256, bytes }: FileOfMedia): Promise<void> => {
  await em.execute(
    "insert into media_file (media_id, name, sha256, bytes) select id, ?, ?, ? from media where hash = ? on conflict (media_id, name) do nothing",
    [name, sha256, bytes, hash],
  );
};

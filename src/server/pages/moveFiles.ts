import type { EntityManager } from "../../store/orm";
import type { FileStore } from "../../outside/fileStore";

/**
 * Moves the bytes of uploads that still lie in the database into the file store, one at a time. Cut off, it goes on at
 * the next start; two processes at once move the same bytes to the same name.
 */
export const moveFiles = async (em: EntityManager, files: FileStore): Promise<number> => {
  for (let moved = 0; ; moved += 1) {
    const [row] = await em.execute<{ media_id: string; name: string; body: Buffer }[]>(
      "select media_id, name, body from media_file where body is not null order by media_id, name limit 1",
    );
    if (!row) return moved;
    const taken = await files.take(row.body);
    await files.keep(taken);
    await em.execute("update media_file set sha256 = ?, bytes = ?, body = null where media_id = ? and name = ?", [
      taken.sha256,
      taken.bytes,
      row.media_id,
      row.name,
    ]);
  }
};

import { MediaFile } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import type { FileStore } from "../../outside/fileStore";

/**
 * Moves the bytes of uploads that still lie in the database into the file store, one at a time. Cut off, it goes on at
 * the next start; two processes at once move the same bytes to the same name.
 */
export const moveFiles = async (em: EntityManager, files: FileStore): Promise<number> => {
  for (let moved = 0; ; moved += 1) {
    // One at a time in memory, too.
    em.clear();
    const row = await em.findOne(MediaFile, { body: { $ne: null } }, { orderBy: { mediaId: 1, name: 1 } });
    if (!row?.body) return moved;
    const taken = await files.take(Buffer.from(row.body));
    await files.keep(taken);
    const { mediaId, name } = row;
    await em.nativeUpdate(MediaFile, { mediaId, name }, { sha256: taken.sha256, bytes: taken.bytes, body: null });
  }
};

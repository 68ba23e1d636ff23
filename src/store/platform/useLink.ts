import type { EntityManager } from "../orm";

/** Notes that a link was used, by its hash. Answers whether it was unused. */
export const useLink = async (em: EntityManager, hash: string, usedAt: Date, expiresAt: Date): Promise<boolean> => {
  const rows = await em.execute<object[]>("insert into used_link (hash, used_at, expires_at) values (?, ?, ?) on conflict do nothing returning 1", [
    hash,
    usedAt,
    expiresAt,
  ]);
  return rows.length > 0;
};

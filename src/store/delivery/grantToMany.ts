import { uuids } from "../events/batch";
import type { EntityManager } from "../orm";

/** Gives many contacts access to a product for good, as a file says that they bought it; each once for each file. How many got it. */
export const grantToMany = async (
  tx: EntityManager,
  importId: string,
  contacts: readonly string[],
  { product, reason }: { product: string; reason: string },
  now: Date,
): Promise<number> => {
  const rows = await tx.execute<object[]>(
    `insert into access_grant (id, contact_id, product_id, from_at, reason, given_at, given_by, import_id)
     select gen_random_uuid(), c, ?, ?, ?, ?, (select user_id from people_import where id = ?), ? from unnest(?::uuid[]) c
     on conflict (import_id, contact_id) do nothing returning 1`,
    [product, now, reason, now, importId, importId, uuids(contacts)],
  );
  return rows.length;
};

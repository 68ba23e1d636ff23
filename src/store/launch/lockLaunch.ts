import type { EntityManager } from "../orm";

/**
 * Holds a launch's row until the transaction ends: what is published, archived or deleted at the same moment waits. Orders
 * go on, since they only refer to it. What the transaction read before is read again, as it is now.
 */
export const lockLaunch = async (tx: EntityManager, of: { id: string } | { slug: string }): Promise<void> => {
  const [column, value] = "id" in of ? ["id", of.id] : ["slug", of.slug];
  await tx.execute(`select 1 from launch where ${column} = ? for no key update`, [value]);
  tx.clear();
};

import type { EntityManager } from "../orm";

/** Lets one transaction at a time go on under a name, until it ends. For what has no row to lock. */
export const lockName = async (tx: EntityManager, name: string): Promise<void> => {
  await tx.execute("select pg_advisory_xact_lock(hashtextextended(?, 0))", [name]);
};

import type { OfferPath } from "../../core/offers";
import type { EntityManager } from "../orm";

/** Keeps a path as the next version of a launch's, and answers which it is. Call in a transaction that holds the launch. */
export const addPath = async (
  tx: EntityManager,
  launchId: string,
  path: OfferPath,
  what: string,
  userId: string | null,
  at: Date,
): Promise<number> => {
  for (const { id } of path.steps) await tx.execute("insert into path_step (id, launch_id) values (?, ?) on conflict do nothing", [id, launchId]);
  const [row] = await tx.execute<{ version: number }[]>(
    `insert into path_version (launch_id, version, path, what, at, user_id)
     select ?, coalesce(max(version), 0) + 1, ?::jsonb, ?, ?, ? from path_version where launch_id = ? returning version`,
    [launchId, JSON.stringify(path), what, at, userId, launchId],
  );
  return row!.version;
};

import type { OfferPath } from "../../core/offers";
import type { EntityManager } from "../orm";

/** The newest state of the offer path of each launch, or of one. */
export const newestPaths = async (em: EntityManager, launchId?: string): Promise<{ launchId: string; path: OfferPath }[]> => {
  const rows = await em.execute<{ launch_id: string; path: OfferPath }[]>(
    `select distinct on (launch_id) launch_id, path from path_version where ?::uuid is null or launch_id = ? order by launch_id, version desc`,
    [launchId ?? null, launchId ?? null],
  );
  return rows.map(({ launch_id, path }) => ({ launchId: launch_id, path }));
};

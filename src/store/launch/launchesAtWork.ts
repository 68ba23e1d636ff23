import type { EntityManager } from "../orm";

/** Launches that are not archived, by their ids. */
export const launchesAtWork = async (em: EntityManager): Promise<string[]> =>
  (await em.execute<{ id: string }[]>("select id from launch where archived_at is null order by id")).map(({ id }) => id);

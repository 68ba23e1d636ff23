import type { Audience } from "../../core/launch";
import type { EntityManager } from "../orm";

/** How many people a launch's clock tells something now: those who have not paid, and its buyers. */
export const peopleToTell = async (em: EntityManager, launchId: string): Promise<Audience> => {
  const [row] = await em.execute<{ watching: string; buyers: string }[]>(
    `select (select count(*) from stage_rollup where launch_id = ? and paid is null) as watching,
       (select count(distinct contact_id) from sale_order where launch_id = ? and not test) as buyers`,
    [launchId, launchId],
  );
  return { watching: Number(row!.watching), buyers: Number(row!.buyers) };
};

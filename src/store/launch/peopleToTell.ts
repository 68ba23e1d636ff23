import type { Audience } from "../../core/launch";
import type { ConditionScope } from "../../core/conditions";
import { ordersIn } from "../checkout/ordersIn";
import type { EntityManager } from "../orm";

/** How many people a launch's clock tells something now: those who have not paid, and its buyers. */
export const peopleToTell = async (em: EntityManager, scope: ConditionScope & { launchId: string }): Promise<Audience> => {
  const [row] = await em.execute<{ watching: string; buyers: string }[]>(
    `select (select count(*) from stage_rollup where launch_id = ? and paid is null) as watching,
       (select count(distinct s.contact_id) from ?) as buyers`,
    [scope.launchId, ordersIn(scope)],
  );
  return { watching: Number(row!.watching), buyers: Number(row!.buyers) };
};

import type { Stage } from "../../core/retarget";
import type { EntityManager } from "../orm";

/** How many different people reached each stage of a launch. */
export const stageFunnel = async (em: EntityManager, launchId: string): Promise<Record<Stage, number>> => {
  const [row] = await em.execute<Record<Stage, string>[]>(
    `select count(visited) as visited, count(opted_in) as opted_in, count(saw_sales) as saw_sales, count(began_checkout) as began_checkout, count(paid) as paid
     from stage_rollup where launch_id = ?`,
    [launchId],
  );
  return Object.fromEntries(Object.entries(row!).map(([stage, n]) => [stage, Number(n)])) as Record<Stage, number>;
};

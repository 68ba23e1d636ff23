import type { Stage } from "../../core/events";
import type { EntityManager } from "../orm";

/** How many different people had reached each stage of a launch at an instant. */
export const stageFunnel = async (em: EntityManager, launchId: string, asOf: Date): Promise<Record<Stage, number>> => {
  const [row] = await em.execute<Record<Stage, string>[]>(
    `select count(*) filter (where visited <= t.at) as visited, count(*) filter (where opted_in <= t.at) as opted_in, count(*) filter (where saw_sales <= t.at) as saw_sales,
       count(*) filter (where began_checkout <= t.at) as began_checkout, count(*) filter (where paid <= t.at) as paid
     from stage_rollup, (select ?::timestamptz as at) as t where launch_id = ?`,
    [asOf, launchId],
  );
  return Object.fromEntries(Object.entries(row!).map(([stage, n]) => [stage, Number(n)])) as Record<Stage, number>;
};

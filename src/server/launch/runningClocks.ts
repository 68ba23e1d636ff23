import { phaseFor, type LaunchPlan } from "../../core/launch";
import type { EntityManager } from "../../store/orm";

/** How many people's own clocks run at an instant: started, not over, not stopped. */
export const runningClocks = async (em: EntityManager, launchId: string, plan: LaunchPlan, at: Date): Promise<number> => {
  const people = await em.execute<{ starts: string[] }[]>(
    `select array_agg(to_char(c.at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') order by c.at) as starts from clock_start c
     where c.launch_id = ? and c.at <= ? and not exists (select from clock_stop s where s.launch_id = c.launch_id and s.person_id = c.person_id and s.at <= ?)
     group by c.person_id`,
    [launchId, at, at],
  );
  return people.filter(({ starts }) => phaseFor(plan, { starts: starts.map((start) => new Date(start)) }, at) === "during").length;
};

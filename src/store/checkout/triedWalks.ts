import type { Decision } from "../../core/offers";
import type { ConditionScope } from "../../core/conditions";
import type { EntityManager } from "../orm";
import { ordersIn } from "./ordersIn";

/** How test orders walked a version of a launch's path to its end, each way of answering once; and how many test orders there are in all. */
export const triedWalks = async (
  em: EntityManager,
  scope: ConditionScope & { launchId: string },
  version: number,
): Promise<{ orders: number; walked: Record<string, Decision>[] }> => {
  const rows = await em.execute<{ answers: Record<string, Decision>; n: string; ended: boolean }[]>(
    `select coalesce(d.answers, '{}'::jsonb) as answers, s.finished_path_at is not null as ended, count(*) as n
     from ? left join (select order_id, jsonb_object_agg(step_id, decision) as answers from offer_decision group by 1) d on d.order_id = s.id
     where s.path_version = ? group by 1, 2`,
    [ordersIn({ ...scope, test: true }), version],
  );
  return { orders: rows.reduce((sum, { n }) => sum + Number(n), 0), walked: rows.filter(({ ended }) => ended).map(({ answers }) => answers) };
};

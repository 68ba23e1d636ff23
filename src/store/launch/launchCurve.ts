import type { FigureScope } from "../../core/figures";
import { ordersIn } from "../checkout/ordersIn";
import type { EntityManager } from "../orm";

export interface CurveHour {
  /** Start of the hour, ISO. */
  hour: string;
  visits: number;
  orders: number;
}

/** Page visits and orders of a launch, hour by hour up to an instant; hours without either are left out. Orders come from the orders themselves. */
export const launchCurve = async (em: EntityManager, scope: FigureScope & { launchId: string }): Promise<CurveHour[]> => {
  const rows = await em.execute<{ hour: Date | string; visits: string; orders: string }[]>(
    `select hour, sum(visits) as visits, sum(orders) as orders from (
       select hour, events as visits, 0 as orders from hour_count where launch_id = ? and kind in ('visited', 'saw_sales') and hour <= ?
       union all select date_trunc('hour', s.placed_at), 0, count(*) from ? group by 1
     ) as hours group by 1 having sum(visits) + sum(orders) > 0 order by 1`,
    [scope.launchId, scope.now, ordersIn(scope)],
  );
  return rows.map((row) => ({ hour: new Date(row.hour).toISOString(), visits: Number(row.visits), orders: Number(row.orders) }));
};

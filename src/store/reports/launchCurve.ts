import type { EntityManager } from "../orm";

export interface CurveHour {
  /** Start of the hour, ISO. */
  hour: string;
  visits: number;
  orders: number;
}

/** Page visits and orders of a launch, hour by hour; hours without either are left out. */
export const launchCurve = async (em: EntityManager, launchId: string): Promise<CurveHour[]> => {
  const rows = await em.execute<{ hour: Date | string; visits: string; orders: string }[]>(
    `select hour, coalesce(sum(n) filter (where kind in ('visited', 'saw_sales')), 0) as visits, coalesce(sum(n) filter (where kind = 'paid'), 0) as orders
     from hourly_count where launch_id = ? group by 1 order by 1`,
    [launchId],
  );
  return rows.map((row) => ({ hour: new Date(row.hour).toISOString(), visits: Number(row.visits), orders: Number(row.orders) }));
};

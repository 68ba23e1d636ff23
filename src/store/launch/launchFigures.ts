import type { FigureScope } from "../../core/figures";
import { ordersIn } from "../checkout/ordersIn";
import type { EntityManager } from "../orm";

export interface LaunchFigures {
  launchId: string;
  people: number;
  orders: number;
  grossMinor: number;
}

/** How many people came to each launch (or one), and what they paid, tax included, in the currency of its main product. */
export const launchFigures = async (em: EntityManager, scope: FigureScope): Promise<Map<string, LaunchFigures>> => {
  const ofLaunch = scope.launchId ? [scope.launchId] : [];
  const [launches, people, orders, sums] = await Promise.all([
    em.execute<{ id: string }[]>(`select id from launch ${scope.launchId ? "where id = ?" : ""}`, ofLaunch),
    scope.past
      ? em.execute<{ launch_id: string; n: string }[]>(
          `select launch_id, count(*) as n from stage_rollup where visited <= ? ${scope.launchId ? "and launch_id = ?" : ""} group by 1`,
          [scope.now, ...ofLaunch],
        )
      : em.execute<{ launch_id: string; n: string }[]>(
          `select launch_id, sum(people) as n from hour_count where kind = 'visited' ${scope.launchId ? "and launch_id = ?" : ""} group by 1`,
          ofLaunch,
        ),
    em.execute<{ launch_id: string; n: string }[]>("select s.launch_id, count(*) as n from ? group by 1", [ordersIn(scope)]),
    em.execute<{ launch_id: string; minor: string }[]>(
      `select s.launch_id, sum(n.gross_minor) as minor from ? join order_line n on n.order_id = s.id
       join launch l on l.id = s.launch_id join product p on p.id = l.main_product_id and p.currency = s.currency group by 1`,
      [ordersIn(scope)],
    ),
  ]);
  const of = <T extends { launch_id: string }>(rows: T[], id: string) => rows.find(({ launch_id }) => launch_id === id);
  return new Map(
    launches.map(({ id }) => [
      id,
      { launchId: id, people: Number(of(people, id)?.n ?? 0), orders: Number(of(orders, id)?.n ?? 0), grossMinor: Number(of(sums, id)?.minor ?? 0) },
    ]),
  );
};

import type { EntityManager } from "../orm";

export interface LaunchFigures {
  launchId: string;
  people: number;
  orders: number;
  grossMinor: number;
}

/**
 * How many people came to each launch, and what they paid, tax included, in the currency of its main product: as things are now, or
 * as they were at an instant.
 */
export const launchFigures = async (em: EntityManager, asOf?: Date): Promise<Map<string, LaunchFigures>> => {
  const people = asOf
    ? "select launch_id, count(*) as people from stage_rollup where visited <= ? group by 1"
    : "select launch_id, sum(people) as people from hour_count where kind = 'visited' group by 1";
  const rows = await em.execute<{ id: string; people: string; orders: string; gross: string }[]>(
    `select l.id, coalesce(p.people, 0) as people, coalesce(o.orders, 0) as orders, coalesce(o.gross, 0) as gross from launch l
    left join (${people}) p on p.launch_id = l.id
    left join (select s.launch_id, count(distinct s.id) as orders, sum(n.gross_minor) filter (where s.currency = p.currency) as gross
      from sale_order s join order_line n on n.order_id = s.id join launch a on a.id = s.launch_id join product p on p.id = a.main_product_id
      where not s.test ${asOf ? "and s.placed_at <= ?" : ""} group by 1) o
      on o.launch_id = l.id`,
    asOf ? [asOf, asOf] : [],
  );
  return new Map(
    rows.map((row) => [row.id, { launchId: row.id, people: Number(row.people), orders: Number(row.orders), grossMinor: Number(row.gross) }]),
  );
};

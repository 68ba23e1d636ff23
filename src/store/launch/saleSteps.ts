import type { SaleSteps } from "../../core/launch";
import type { EntityManager } from "../orm";

/** How many steps are drawn where nothing hangs on the very sale. */
const most = 1_000;

/**
 * How the counter of a launch's main product grew, which seats and a rising price go by. Every sale that raises the price
 * (each `every`th) or takes the last of `seats` is there; of the others about a thousand.
 */
export const saleSteps = async (
  em: EntityManager,
  launchId: string,
  productId: string,
  every: number | null,
  seats: number | null,
): Promise<SaleSteps> => {
  const rows = await em.execute<{ at: string; n: string }[]>(
    `with sold as materialized (
       select s.placed_at as at, sum(n.quantity) over (order by s.placed_at, n.id) as until, n.quantity
       from order_line n join sale_order s on s.id = n.order_id where not s.test and s.launch_id = ? and n.product_id = ? and n.role = 'front'
     ), total as (select coalesce(max(until), 0) as n from sold)
     select sold.at, g.n from sold cross join total cross join lateral generate_series(sold.until - sold.quantity + 1, sold.until) as g(n)
     where g.n % greatest(1, total.n / ${most}) = 0 or g.n = total.n or g.n % ?::bigint = 0 or g.n = ?::bigint order by g.n`,
    [launchId, productId, every ?? 1_000_000_000, seats ?? -1],
  );
  return { at: rows.map(({ at }) => new Date(at).getTime()), sold: rows.map(({ n }) => Number(n)) };
};

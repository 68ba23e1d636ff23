import type { SaleSteps } from "../../core/launch";
import type { FigureScope } from "../../core/figures";
import { ordersIn } from "../checkout/ordersIn";
import type { EntityManager } from "../orm";

/** How many steps are drawn where nothing hangs on the very sale. */
const most = 1_000;

/**
 * How the counter of a launch's main product grew, which seats and a rising price go by. Every sale that raises the price
 * (each `every`th) or takes the last of `seats` is there; of the others about a thousand.
 */
export const saleSteps = async (
  em: EntityManager,
  scope: FigureScope,
  productId: string,
  every: number | null,
  seats: number | null,
): Promise<SaleSteps> => {
  const rows = await em.execute<{ at: string; n: string }[]>(
    `with sold as materialized (
       select s.placed_at as at, sum(n.quantity) over (order by s.placed_at, n.id) as until, n.quantity
       from ? join order_line n on n.order_id = s.id where n.product_id = ? and n.role = 'front'
     ), total as (select coalesce(max(until), 0) as n, greatest(1, coalesce(max(until), 0) / ${most}) as step, ?::bigint as every, ?::bigint as seats from sold)
     select sold.at, g.n from sold cross join total cross join lateral generate_series(sold.until - sold.quantity + 1, sold.until) as g(n)
     where (until = total.n or until / step > (until - quantity) / step or until / every > (until - quantity) / every or seats between until - quantity + 1 and until)
       and (g.n % step = 0 or g.n = total.n or g.n % every = 0 or g.n = seats) order by g.n`,
    [ordersIn(scope), productId, every ?? 1_000_000_000, seats ?? -1],
  );
  return { at: rows.map(({ at }) => new Date(at).getTime()), sold: rows.map(({ n }) => Number(n)) };
};

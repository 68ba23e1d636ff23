import type { FigureScope } from "../../core/figures";
import { ordersIn } from "../checkout/ordersIn";
import type { EntityManager } from "../orm";

/** Orders of a launch at a marketplace, what the marketplace owes for them, and what it kept as its fee; minor units. */
export const marketplaceFigures = async (
  em: EntityManager,
  scope: FigureScope,
  marketplace: string,
): Promise<{ orders: number; receivable: number; fees: number }> => {
  const [row] = await em.execute<{ orders: string; receivable: string; fees: string }[]>(
    `select count(distinct s.id) as orders, coalesce(sum(x.minor) filter (where x.account = 'marketplace_receivable'), 0) as receivable,
       coalesce(sum(x.minor) filter (where x.account = 'marketplace_fees'), 0) as fees
     from ? left join journal j on j.order_id = s.id left join posting x on x.journal_id = j.id where s.source = ? and (j.at is null or j.at <= ?)`,
    [ordersIn(scope), marketplace, scope.now],
  );
  return { orders: Number(row!.orders), receivable: Number(row!.receivable), fees: Number(row!.fees) };
};

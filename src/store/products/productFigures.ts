import type { FigureScope } from "../../core/figures";
import { ordersIn } from "../checkout/ordersIn";
import type { EntityManager } from "../orm";

export interface ProductFigures {
  productId: string;
  sold: number;
  grossMinor: number;
}

/** How often each product was sold, and for how much, tax included, in its own currency. */
export const productFigures = async (em: EntityManager, scope: FigureScope): Promise<Map<string, ProductFigures>> => {
  const rows = await em.execute<{ product_id: string; n: string; gross: string }[]>(
    `select n.product_id, sum(n.quantity) filter (where n.role not in ('shipping', 'rebill')) as n, sum(n.gross_minor) filter (where s.currency = p.currency) as gross
     from ? join order_line n on n.order_id = s.id join product p on p.id = n.product_id group by 1`,
    [ordersIn(scope)],
  );
  return new Map(rows.map((row) => [row.product_id, { productId: row.product_id, sold: Number(row.n ?? 0), grossMinor: Number(row.gross) }]));
};

import type { EntityManager } from "../orm";

export interface ProductFigures {
  productId: string;
  sold: number;
  grossMinor: number;
}

/** How often each product was sold up to an instant, and for how much, tax included, in its own currency. */
export const productFigures = async (em: EntityManager, asOf: Date): Promise<Map<string, ProductFigures>> => {
  const rows = await em.execute<{ product_id: string; n: string; gross: string }[]>(
    `select n.product_id, sum(n.quantity) filter (where n.role not in ('shipping', 'rebill')) as n, sum(n.gross_minor) filter (where s.currency = p.currency) as gross
     from order_line n join sale_order s on s.id = n.order_id join product p on p.id = n.product_id where s.placed_at <= ? and not s.test group by 1`,
    [asOf],
  );
  return new Map(rows.map((row) => [row.product_id, { productId: row.product_id, sold: Number(row.n ?? 0), grossMinor: Number(row.gross) }]));
};

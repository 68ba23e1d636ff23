import type { EntityManager } from "../orm";

export interface ProductFigures {
  productId: string;
  sold: number;
  grossMinor: number;
}

/** How often each product was sold up to an instant, and for how much, tax included. */
export const productFigures = async (em: EntityManager, asOf: Date): Promise<Map<string, ProductFigures>> => {
  const rows = await em.execute<{ product_id: string; n: string; gross: string }[]>(
    `select n.product_id, count(*) as n, sum(n.gross_minor) as gross from order_line n join sale_order s on s.id = n.order_id where s.placed_at <= ? group by 1`,
    [asOf],
  );
  return new Map(rows.map((row) => [row.product_id, { productId: row.product_id, sold: Number(row.n), grossMinor: Number(row.gross) }]));
};

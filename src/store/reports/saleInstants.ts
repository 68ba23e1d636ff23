import type { EntityManager } from "../orm";

/** When each of a launch's main product was sold, in epoch milliseconds, in order: the counter behind seats and a rising price. */
export const saleInstants = async (em: EntityManager, launchId: string, productId: string): Promise<number[]> => {
  const rows = await em.execute<{ at: string }[]>(
    `select s.placed_at as at from order_line n join sale_order s on s.id = n.order_id, generate_series(1, n.quantity)
     where not s.test and s.launch_id = ? and n.product_id = ? and n.role = 'front' order by 1`,
    [launchId, productId],
  );
  return rows.map(({ at }) => new Date(at).getTime());
};

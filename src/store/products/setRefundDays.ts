import type { EntityManager } from "../orm";

/** Sets the days within which a product may be given back. Whoever has it open at the desk is told that it changed. */
export const setRefundDays = async (em: EntityManager, productId: string, days: number): Promise<void> => {
  await em.execute("update product set refund_days = ?, version = version + 1 where id = ?", [days, productId]);
};

import type { Order } from "../tables";
import type { EntityManager } from "../orm";

/** Which code did an order use? One of an order that tries things out is known by its charge. */
export const usedCode = async (em: EntityManager, { checkoutId }: Pick<Order, "checkoutId">): Promise<{ code: string } | undefined> => {
  const [row] = await em.execute<{ code: string }[]>(
    "select coupon as code from charge where checkout_id = ? and coupon is not null and state in ('succeeded', 'authorized') order by created_at limit 1",
    [checkoutId],
  );
  return row;
};

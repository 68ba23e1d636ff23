import type { EntityManager } from "../orm";

/** Notes that what an order's card holds is to be taken. Charges are locked before their order, as whoever applies the processor's word locks them. */
export const askForCapture = async (tx: EntityManager, orderId: string, now: Date): Promise<void> => {
  await tx.execute(
    "update charge set capture_asked_at = ? where state = 'authorized' and id in (select g.id from charge g join sale_order s on s.checkout_id = g.checkout_id where s.id = ? order by g.id)",
    [now, orderId],
  );
};

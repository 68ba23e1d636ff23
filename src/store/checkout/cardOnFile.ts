import type { EntityManager } from "../orm";

/** The card with which a browser, or a buyer, last paid in a currency. */
export const cardOfBrowser = async (
  em: EntityManager,
  visitorId: string,
  buyerId: string | null,
  currency: string,
  test: boolean,
): Promise<{ card: string; last4: string } | undefined> => {
  const [row] = await em.execute<{ card_ref: string; card_last4: string }[]>(
    `select s.card_ref, s.card_last4 from sale_order s where s.id in (
       select o.id from sale_order o join checkout k on k.id = o.checkout_id where k.visitor_id = ? union select o.id from sale_order o where o.contact_id = ?)
     and s.card_ref is not null and s.card_last4 is not null and s.currency = ? and s.test = ? order by s.placed_at desc limit 1`,
    [visitorId, buyerId, currency, test],
  );
  return row && { card: row.card_ref, last4: row.card_last4 };
};

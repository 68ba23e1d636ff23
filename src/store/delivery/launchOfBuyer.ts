import type { EntityManager } from "../orm";

/**
 * The launch in whose look and words a buyer is written to about their library: that of their newest order; of whom only access was
 * given to, one that sells the product, or else any. Undefined of whoever neither bought nor was given anything.
 */
export const launchOfBuyer = async (em: EntityManager, contactId: string): Promise<string | undefined> => {
  const [row] = await em.execute<{ id: string | null }[]>(
    `select coalesce(
       (select launch_id from sale_order where contact_id = ? and not test order by placed_at desc limit 1),
       (select l.id from access_grant a cross join launch l where a.contact_id = ? order by l.main_product_id = a.product_id desc, a.given_at desc, l.slug limit 1)
     ) as id`,
    [contactId, contactId],
  );
  return row?.id ?? undefined;
};

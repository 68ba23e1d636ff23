import type { EntityManager } from "../orm";

/** How many pieces of background work have failed and wait to be tried again, emails of unknown fate among them. */
export const lateWork = async (em: EntityManager): Promise<number> => {
  const [row] = await em.execute<{ n: string }[]>(
    "select (select count(*) from outbox where tries > 0) + (select count(*) from (select from email_message where state = 'unknown' limit 1000) as unsure) as n",
  );
  return Number(row!.n);
};

import type { Balance } from "../../core/money";
import type { EntityManager } from "../orm";

/** The balance of every account; debits positive. They add up to zero in each currency. */
export const ledgerBalances = async (em: EntityManager): Promise<Balance[]> => {
  const rows = await em.execute<{ account: string; currency: string; minor: string }[]>(
    "select account, currency, sum(minor) as minor from posting group by 1, 2 order by 2, 1",
  );
  return rows.map((row) => ({ ...row, minor: Number(row.minor) }));
};

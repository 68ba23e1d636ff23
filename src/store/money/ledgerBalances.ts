import type { Balance } from "../../core/money";
import type { EntityManager } from "../orm";

/** The balance of every account at an instant; debits positive. They add up to zero in each currency. */
export const ledgerBalances = async (em: EntityManager, asOf: Date): Promise<Balance[]> => {
  const rows = await em.execute<{ account: string; currency: string; minor: string }[]>(
    "select x.account, x.currency, sum(x.minor) as minor from posting x join journal j on j.id = x.journal_id where j.at <= ? group by 1, 2 order by 2, 1",
    [asOf],
  );
  return rows.map((row) => ({ ...row, minor: Number(row.minor) }));
};

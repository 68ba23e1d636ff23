import type { EntityManager } from "./orm";

interface Runner {
  raw: (sql: string, parameters: readonly unknown[]) => { options: (options: { name?: string }) => Promise<{ rows: unknown[] }> };
}

/**
 * Runs a statement that is used again and again, in the transaction that is under way if there is one. Each connection
 * reads and plans it once, by its name; and its parameters are sent beside it: quoted into the text, thousands of rows
 * would cost as much as the pages they count.
 */
export const prepared = async <T>(em: EntityManager, name: string, sql: string, parameters: readonly unknown[]): Promise<T[]> => {
  const runner = em.getTransactionContext<Runner>() ?? (em.getConnection().getKnex() as Runner);
  return (await runner.raw(sql, parameters).options({ name })).rows as T[];
};

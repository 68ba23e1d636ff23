import type { EntityManager } from "../src/store/orm";

export type Row = Record<string, unknown>;

/** Inserts rows of one table in few statements. Column names come from the first row. */
export const insert = async (em: EntityManager, table: string, rows: Row[]): Promise<void> => {
  if (rows.length === 0) return;
  const columns = Object.keys(rows[0]!);
  for (let from = 0; from < rows.length; from += 2_000) {
    const batch = JSON.stringify(rows.slice(from, from + 2_000));
    await em.execute(
      `insert into ${table} (${columns.join(", ")}) select ${columns.join(", ")} from jsonb_populate_recordset(null::${table}, ?::jsonb)`,
      [batch],
    );
  }
};

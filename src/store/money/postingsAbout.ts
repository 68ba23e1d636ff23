import type { EntityManager } from "../orm";

/** What was booked about a refund or a dispute, line by line. Minor units. */
export const postingsAbout = async (
  em: EntityManager,
  aboutId: string,
): Promise<{ lineId: string; kind: string; account: string; commissionId: string | null; minor: number }[]> => {
  const rows = await em.execute<{ line_id: string; kind: string; account: string; commission_id: string | null; minor: string }[]>(
    "select j.line_id, j.kind, x.account, j.commission_id, x.minor from journal j join posting x on x.journal_id = j.id where j.about_id = ?",
    [aboutId],
  );
  return rows.map((row) => ({
    lineId: row.line_id,
    kind: row.kind,
    account: row.account,
    commissionId: row.commission_id,
    minor: Number(row.minor),
  }));
};

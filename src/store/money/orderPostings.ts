import type { EntityManager } from "../orm";

export interface OrderPosting {
  journal: string;
  kind: string;
  at: Date;
  account: string;
  partner: string | null;
  minor: number;
  currency: string;
  line: string;
}

/** Every posting that an order caused, journal by journal. */
export const orderPostings = async (em: EntityManager, orderId: string): Promise<OrderPosting[]> => {
  const rows = await em.execute<Record<string, string | null>[]>(
    `select j.id as journal, j.kind, j.at, x.account, p.name as partner, x.minor, x.currency, n.name as line
     from journal j join posting x on x.journal_id = j.id left join partner p on p.id = x.partner_id join order_line n on n.id = j.line_id
     where j.order_id = ? order by array_position(array['front','bump','offer','shipping','rebill'], n.role), j.kind desc, j.id, x.position`,
    [orderId],
  );
  return rows.map((row) => ({
    journal: row["journal"]!,
    kind: row["kind"]!,
    at: new Date(row["at"]!),
    account: row["account"]!,
    partner: row["partner"] ?? null,
    minor: Number(row["minor"]),
    currency: row["currency"]!,
    line: row["line"]!,
  }));
};

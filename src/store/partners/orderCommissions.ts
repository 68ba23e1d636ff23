import type { EntityManager } from "../orm";

export interface OrderCommission {
  line: string;
  minor: number;
  /** What of it was taken back since. */
  reversedMinor: number;
  rateBp: number;
  pendingUntil: Date;
}

/** The commission of each line of an order, and until when it is held. */
export const orderCommissions = async (em: EntityManager, orderId: string): Promise<OrderCommission[]> => {
  const rows = await em.execute<{ name: string; minor: string; reversed_minor: string; rate_bp: number; pending_until: string }[]>(
    "select n.name, c.minor, c.reversed_minor, c.rate_bp, c.pending_until from commission c join order_line n on n.id = c.line_id where n.order_id = ? order by array_position(array['front','bump','offer','shipping','rebill'], n.role)",
    [orderId],
  );
  return rows.map((row) => ({
    line: row.name,
    minor: Number(row.minor),
    reversedMinor: Number(row.reversed_minor),
    rateBp: row.rate_bp,
    pendingUntil: new Date(row.pending_until),
  }));
};

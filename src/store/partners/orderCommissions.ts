import type { CommissionRule } from "../../core/partners";
import type { EntityManager } from "../orm";

export interface OrderCommission {
  line: string;
  partner: string;
  rule: CommissionRule;
  minor: number;
  /** What of it was taken back since. */
  reversedMinor: number;
  rateBp: number;
  pendingUntil: Date;
}

/** The commissions of the lines of an order: whose, by which rule, and until when they are held. */
export const orderCommissions = async (em: EntityManager, orderId: string): Promise<OrderCommission[]> => {
  const rows = await em.execute<
    { name: string; partner: string; rule: CommissionRule; minor: string; reversed_minor: string; rate_bp: number; pending_until: string }[]
  >(
    "select n.name, p.name as partner, c.rule, c.minor, c.reversed_minor, c.rate_bp, c.pending_until from commission c join partner p on p.id = c.partner_id join order_line n on n.id = c.line_id where n.order_id = ? order by c.level, array_position(array['front','bump','offer','shipping','rebill'], n.role)",
    [orderId],
  );
  return rows.map((row) => ({
    line: row.name,
    partner: row.partner,
    rule: row.rule,
    minor: Number(row.minor),
    reversedMinor: Number(row.reversed_minor),
    rateBp: row.rate_bp,
    pendingUntil: new Date(row.pending_until),
  }));
};

import type { CommissionRule } from "../../core/partners";
import type { EntityManager } from "../orm";

export interface PartnerOrderLine {
  order: number;
  placedAt: Date;
  launch: string;
  /** The zone of its launch. */
  zone: string;
  line: string;
  /** What was taken back of the commission, and whether that was all of it. */
  reversedMinor: number;
  baseMinor: number;
  rateBp: number;
  rule: CommissionRule;
  minor: number;
  currency: string;
  pendingUntil: Date;
}

/** Order lines that earned a partner a commission, newest first, a page of them; and how many there are. Names no buyer. */
export const partnerOrders = async (
  em: EntityManager,
  partnerId: string,
  { from, most }: { from: number; most: number },
): Promise<{ lines: PartnerOrderLine[]; all: number }> => {
  const rows = await em.execute<Record<string, string>[]>(
    `select s.number, s.placed_at, l.name as launch, l.zone, n.name as line, c.base_minor, c.rate_bp, c.rule, c.minor - c.reversed_minor as minor, c.reversed_minor, c.currency, c.pending_until
     from commission c join order_line n on n.id = c.line_id join sale_order s on s.id = n.order_id join launch l on l.id = s.launch_id
     where c.partner_id = ? order by s.placed_at desc, array_position(array['front','bump','offer','shipping','rebill'], n.role), n.id
     limit ? offset ?`,
    [partnerId, most, from],
  );
  const [all] = await em.execute<{ n: string }[]>("select count(*) as n from commission where partner_id = ?", [partnerId]);
  const lines = rows.map((row) => ({
    order: Number(row["number"]),
    placedAt: new Date(row["placed_at"]!),
    launch: row["launch"]!,
    zone: row["zone"]!,
    line: row["line"]!,
    reversedMinor: Number(row["reversed_minor"]),
    baseMinor: Number(row["base_minor"]),
    rateBp: Number(row["rate_bp"]),
    rule: row["rule"] as CommissionRule,
    minor: Number(row["minor"]),
    currency: row["currency"]!,
    pendingUntil: new Date(row["pending_until"]!),
  }));
  return { lines, all: Number(all!.n) };
};

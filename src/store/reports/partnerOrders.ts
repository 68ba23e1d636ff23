import type { EntityManager } from "../orm";

export interface PartnerOrderLine {
  order: number;
  placedAt: Date;
  launch: string;
  line: string;
  baseMinor: number;
  rateBp: number;
  minor: number;
  currency: string;
  heldUntil: Date;
}

/** Every order line that earned a partner a commission, newest first. Names no buyer. */
export const partnerOrders = async (em: EntityManager, partnerId: string): Promise<PartnerOrderLine[]> => {
  const rows = await em.execute<Record<string, string>[]>(
    `select s.number, s.placed_at, l.name as launch, n.name as line, c.base_minor, c.rate_bp, c.minor - c.reversed_minor as minor, c.currency, c.held_until
     from commission c join order_line n on n.id = c.line_id join sale_order s on s.id = n.order_id join launch l on l.id = s.launch_id
     where c.partner_id = ? order by s.placed_at desc, array_position(array['front','bump','offer','shipping','rebill'], n.role) limit 200`,
    [partnerId],
  );
  return rows.map((row) => ({
    order: Number(row["number"]),
    placedAt: new Date(row["placed_at"]!),
    launch: row["launch"]!,
    line: row["line"]!,
    baseMinor: Number(row["base_minor"]),
    rateBp: Number(row["rate_bp"]),
    minor: Number(row["minor"]),
    currency: row["currency"]!,
    heldUntil: new Date(row["held_until"]!),
  }));
};

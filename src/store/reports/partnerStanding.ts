import type { PartnerStanding } from "../../core/partners";
import type { EntityManager } from "../orm";

/** Clicks, opt-ins, orders and commission of each partner (or one) up to an instant, and what is still held. */
export const partnerStanding = async (em: EntityManager, now: Date, launchId?: string, partnerId?: string): Promise<PartnerStanding[]> => {
  const launch = launchId ?? null;
  const rows = await em.execute<Record<string, string>[]>(
    `select p.id, p.name, p.code, p.rate_bp,
       (select count(*) from touch t where t.partner_id = p.id and t.at <= ? and (?::uuid is null or t.launch_id = ?)) as clicks,
       (select count(*) from stage_rollup r where r.partner_id = p.id and r.opted_in <= ? and (?::uuid is null or r.launch_id = ?)) as opt_ins,
       count(distinct s.id) as orders, coalesce(sum(c.minor - c.reversed_minor) filter (where c.held_until > ?), 0) as held, coalesce(sum(c.minor - c.reversed_minor) filter (where c.held_until <= ?), 0) as due,
       coalesce(max(c.currency), 'EUR') as currency
     from partner p left join sale_order s on s.partner_id = p.id and s.placed_at <= ? and (?::uuid is null or s.launch_id = ?)
       left join order_line n on n.order_id = s.id left join commission c on c.line_id = n.id
     where ?::uuid is null or p.id = ? group by p.id order by coalesce(sum(c.minor - c.reversed_minor), 0) desc, p.name`,
    [now, launch, launch, now, launch, launch, now, now, now, launch, launch, partnerId ?? null, partnerId ?? null],
  );
  return rows.map((row) => ({
    partnerId: row["id"]!,
    name: row["name"]!,
    code: row["code"]!,
    rateBp: Number(row["rate_bp"]),
    clicks: Number(row["clicks"]),
    optIns: Number(row["opt_ins"]),
    orders: Number(row["orders"]),
    heldMinor: Number(row["held"]),
    dueMinor: Number(row["due"]),
    currency: row["currency"]!,
  }));
};

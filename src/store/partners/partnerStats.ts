import type { PartnerStats } from "../../core/partners";
import type { EntityManager } from "../orm";

interface Row {
  id: string;
  name: string;
  code: string;
  rate_bp: string;
  clicks: string;
  opt_ins: string;
  orders: string;
  pending: Record<string, number> | null;
  due: Record<string, number> | null;
}

/**
 * Clicks, opt-ins, orders and commission of each partner (or one) up to an instant, of a launch or of all; those with most
 * orders first. Each kind of row is counted once for all partners, not once for each.
 */
export const partnerStats = async (em: EntityManager, now: Date, launchId?: string, partnerId?: string): Promise<PartnerStats[]> => {
  const rows = await em.execute<Row[]>(
    `with asked as (select ?::timestamptz as at, ?::uuid as launch, ?::uuid as partner),
     clicks as (select t.partner_id, count(*) as n from touch t, asked a where t.at <= a.at and (a.launch is null or t.launch_id = a.launch)
       and (a.partner is null or t.partner_id = a.partner) group by 1),
     opt_ins as (select r.partner_id, count(*) as n from stage_rollup r, asked a where r.partner_id is not null and r.opted_in <= a.at
       and (a.launch is null or r.launch_id = a.launch) and (a.partner is null or r.partner_id = a.partner) group by 1),
     orders as (select s.partner_id, count(*) as n from sale_order s, asked a where s.partner_id is not null and s.placed_at <= a.at
       and (a.launch is null or s.launch_id = a.launch) and (a.partner is null or s.partner_id = a.partner) group by 1),
     earned as (select c.partner_id, c.currency, coalesce(sum(c.minor - c.reversed_minor) filter (where c.pending_until > a.at), 0) as pending,
         coalesce(sum(c.minor - c.reversed_minor) filter (where c.pending_until <= a.at), 0) as due
       from asked a, commission c join order_line n on n.id = c.line_id join sale_order s on s.id = n.order_id
       where s.placed_at <= a.at and (a.launch is null or s.launch_id = a.launch) and (a.partner is null or c.partner_id = a.partner) group by 1, 2),
     sums as (select partner_id, jsonb_object_agg(currency, pending) as pending, jsonb_object_agg(currency, due) as due from earned group by 1)
     select p.id, p.name, p.code, p.rate_bp, coalesce(k.n, 0) as clicks, coalesce(o.n, 0) as opt_ins, coalesce(s.n, 0) as orders, e.pending, e.due
     from asked a, partner p left join clicks k on k.partner_id = p.id left join opt_ins o on o.partner_id = p.id left join orders s on s.partner_id = p.id
       left join sums e on e.partner_id = p.id
     where a.partner is null or p.id = a.partner order by coalesce(s.n, 0) desc, coalesce(k.n, 0) desc, p.name`,
    [now, launchId ?? null, partnerId ?? null],
  );
  return rows.map((row) => ({
    partnerId: row.id,
    name: row.name,
    code: row.code,
    rateBp: Number(row.rate_bp),
    clicks: Number(row.clicks),
    optIns: Number(row.opt_ins),
    orders: Number(row.orders),
    pending: row.pending ?? {},
    due: row.due ?? {},
  }));
};

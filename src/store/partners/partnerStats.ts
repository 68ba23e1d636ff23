import type { FigureScope } from "../../core/figures";
import type { MoneyByCurrency } from "../../core/money";
import type { PartnerStats } from "../../core/partners";
import { ordersIn } from "../checkout/ordersIn";
import type { EntityManager } from "../orm";

/** Partners, those with most orders first: the ids of a page of them, and how many there are in all. */
export const partnersByOrders = async (
  em: EntityManager,
  scope: FigureScope,
  { from, most }: { from: number; most: number },
): Promise<{ ids: string[]; all: number }> => {
  const rows = await em.execute<{ id: string }[]>(
    `select p.id from partner p left join (select s.partner_id, count(*) as n from ? where s.partner_id is not null group by 1) o on o.partner_id = p.id
     order by coalesce(o.n, 0) desc, p.name, p.id offset ? limit ?`,
    [ordersIn(scope), from, most],
  );
  const [row] = await em.execute<{ n: string }[]>("select count(*) as n from partner");
  return { ids: rows.map(({ id }) => id), all: Number(row!.n) };
};

/** The commission of all partners that is still pending. */
export const pendingCommission = async (em: EntityManager, scope: FigureScope): Promise<MoneyByCurrency> => {
  const rows = await em.execute<{ currency: string; minor: string }[]>(
    `select c.currency, sum(c.minor - c.reversed_minor) as minor from ? join order_line n on n.order_id = s.id join commission c on c.line_id = n.id
     where c.pending_until > ? group by 1`,
    [ordersIn(scope), scope.now],
  );
  return Object.fromEntries(rows.map(({ currency, minor }) => [currency, Number(minor)]));
};

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

/** Clicks, opt-ins, orders and commission of these partners, in their order. Each kind of row is counted once for all of them, not once for each. */
export const partnerStats = async (em: EntityManager, scope: FigureScope, ids: readonly string[]): Promise<PartnerStats[]> => {
  const { launchId, now } = scope;
  const [asked, ofLaunch] = [`{${ids.join(",")}}`, launchId ? [launchId] : []];
  const inLaunch = launchId ? "and launch_id = ?" : "";
  const rows = await em.execute<Row[]>(
    `with clicks as (select partner_id, count(*) as n from touch where partner_id = any(?::uuid[]) and at <= ? ${inLaunch} group by 1),
     opt_ins as (select partner_id, count(*) as n from stage_rollup where partner_id = any(?::uuid[]) and opted_in <= ? ${inLaunch} group by 1),
     orders as (select s.partner_id, count(*) as n from ? where s.partner_id = any(?::uuid[]) group by 1),
     earned as (select c.partner_id, c.currency, coalesce(sum(c.minor - c.reversed_minor) filter (where c.pending_until > ?), 0) as pending,
         coalesce(sum(c.minor - c.reversed_minor) filter (where c.pending_until <= ?), 0) as due
       from commission c join order_line n on n.id = c.line_id join ? on s.id = n.order_id where c.partner_id = any(?::uuid[]) group by 1, 2),
     sums as (select partner_id, jsonb_object_agg(currency, pending) as pending, jsonb_object_agg(currency, due) as due from earned group by 1)
     select p.id, p.name, p.code, p.rate_bp, coalesce(k.n, 0) as clicks, coalesce(i.n, 0) as opt_ins, coalesce(o.n, 0) as orders, e.pending, e.due
     from unnest(?::uuid[]) with ordinality as asked(id, place) join partner p on p.id = asked.id left join clicks k on k.partner_id = p.id
       left join opt_ins i on i.partner_id = p.id left join orders o on o.partner_id = p.id left join sums e on e.partner_id = p.id
     order by asked.place`,
    [asked, now, ...ofLaunch, asked, now, ...ofLaunch, ordersIn(scope), asked, now, now, ordersIn(scope), asked, asked],
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

import type { OrderFilter, OrderRow } from "../../core/money";
import type { EntityManager } from "../orm";

/** The newest orders up to an instant that a filter lets through, with what was bought and who is credited; and how many there are in all. */
export const orderList = async (em: EntityManager, filter: OrderFilter, asOf: Date, most = 200): Promise<{ orders: OrderRow[]; all: number }> => {
  const { launch, search = "", state = "", source = "", from = "", until = "" } = filter;
  const where = ["s.placed_at <= ?", state === "test" ? "s.test" : "not s.test"];
  const values: unknown[] = [asOf];
  const add = (sql: string, ...of: unknown[]) => {
    where.push(sql);
    values.push(...of);
  };
  if (launch) add("s.launch_id = ?", launch);
  if (source) add("s.source = ?", source);
  if (from) add("s.placed_at >= ?::date", from);
  if (until) add("s.placed_at < ?::date + 1", until);
  const like = `%${search
    .trim()
    .toLowerCase()
    .replace(/[\\%_]/g, "\\$&")}%`;
  if (search.trim())
    add(
      "(lower(c.first_name) like ? or c.email like ? or s.number::text = ? or exists (select from order_line f where f.order_id = s.id and lower(f.name) like ?))",
      ...[like, like, search.trim().replace(/^#/, ""), like],
    );
  const held = "from charge g where g.checkout_id = s.checkout_id and g.state = 'authorised'";
  if (state === "held") add(`exists (select ${held})`);
  if (state === "refunded") add("exists (select from refund r where r.order_id = s.id and r.state <> 'failed')");
  if (state === "disputed") add("exists (select from dispute d where d.order_id = s.id)");
  if (state === "recovered") add("s.recovered");
  if (state === "recurring") add("exists (select from agreement a where a.order_id = s.id)");
  const rows = await em.execute<Record<string, string | boolean | null>[]>(
    `select s.id, s.number, s.placed_at, c.first_name, c.email, s.country, s.currency, p.name as partner, s.source, s.recovered, s.test, count(*) over () as all,
       n.lines, n.gross, coalesce((select sum(r.amount_minor) from refund r where r.order_id = s.id and r.state = 'succeeded'), 0) as refunded,
       coalesce((select sum(g.amount_minor) ${held}), 0) as held,
       (select d.state from dispute d where d.order_id = s.id order by d.opened_at desc limit 1) as dispute
     from sale_order s join contact c on c.id = s.contact_id left join partner p on p.id = s.partner_id
       cross join lateral (select string_agg(x.name, ' + ' order by array_position(array['front','bump','offer','shipping','rebill'], x.role)) as lines,
         sum(x.gross_minor) as gross from order_line x where x.order_id = s.id) n
     where ${where.join(" and ")} order by s.placed_at desc, s.number desc limit ${Math.trunc(most)}`,
    values,
  );
  const orders = rows.map((row) => ({
    id: String(row["id"]),
    number: Number(row["number"]),
    placedAt: new Date(String(row["placed_at"])),
    buyer: String(row["first_name"]),
    email: String(row["email"]),
    country: String(row["country"]),
    lines: String(row["lines"]),
    grossMinor: Number(row["gross"]),
    refundedMinor: Number(row["refunded"]),
    heldMinor: Number(row["held"]),
    dispute: row["dispute"] as string | null,
    currency: String(row["currency"]),
    partner: row["partner"] as string | null,
    source: String(row["source"]),
    recovered: row["recovered"] === true,
    test: row["test"] === true,
  }));
  return { orders, all: Number(rows[0]?.["all"] ?? 0) };
};

import type { OrderRow } from "../../core/money";
import type { EntityManager } from "../orm";

/** The newest orders of a launch, or of all, up to an instant, with what was bought and who is credited. */
export const orderList = async (em: EntityManager, launchId: string | undefined, asOf: Date, most = 200): Promise<OrderRow[]> => {
  const rows = await em.execute<Record<string, string | boolean | null>[]>(
    `select s.id, s.number, s.placed_at, c.first_name, s.country, string_agg(n.name, ' + ' order by array_position(array['front','bump','offer'], n.role)) as lines, sum(n.gross_minor) as gross, s.currency,
       p.name as partner, s.source, s.recovered
     from sale_order s join order_line n on n.order_id = s.id join contact c on c.id = s.contact_id left join partner p on p.id = s.partner_id
     where s.placed_at <= ? ${launchId ? "and s.launch_id = ?" : ""} group by s.id, c.first_name, p.name order by s.placed_at desc limit ${Math.trunc(most)}`,
    launchId ? [asOf, launchId] : [asOf],
  );
  return rows.map((row) => ({
    id: String(row["id"]),
    number: Number(row["number"]),
    placedAt: new Date(String(row["placed_at"])),
    buyer: String(row["first_name"]),
    country: String(row["country"]),
    lines: String(row["lines"]),
    grossMinor: Number(row["gross"]),
    currency: String(row["currency"]),
    partner: row["partner"] as string | null,
    source: String(row["source"]),
    recovered: row["recovered"] === true,
  }));
};

import type { OrderFilter, OrderRow, OrderSort } from "../../core/money";
import { anywhere, readCursor, writeCursor, type KeyType } from "../cursor";
import type { EntityManager } from "../orm";

/** Which of the orders: `most` in an order of their own, behind where an earlier page ended. */
export interface OrderPage {
  most: number;
  by?: OrderSort;
  down?: boolean;
  /** What the earlier page answered as `next`. */
  after?: string | undefined;
  /** Whether buyers who were erased are named, for whoever keeps the books. */
  books?: boolean;
}

const gross = "(select sum(x.gross_minor) from order_line x where x.order_id = s.id)";
const lines = `(select string_agg(x.name, ' + ' order by array_position(array['front','bump','offer','shipping','rebill'], x.role)) from order_line x where x.order_id = s.id)`;

/** What each column is sorted by, and its type. Rows alike in it stand by their numbers. */
const keys: Record<OrderSort, readonly [sql: string, type: KeyType]> = {
  number: ["s.number", "bigint"],
  placed: ["s.placed_at", "timestamptz"],
  buyer: ["lower(c.first_name)", "text"],
  products: [`left(lower(${lines}), 120)`, "text"],
  partner: ["coalesce((select lower(p.name) from partner p where p.id = s.partner_id), '')", "text"],
  source: ["s.source", "text"],
  paid: [gross, "bigint"],
};

interface Where {
  sql: string;
  values: unknown[];
}

const authorized = "from charge g where g.checkout_id = s.checkout_id and g.state = 'authorized'";

/** What a filter lets through, as a condition over the order `s` and its contact `c`. */
const whereOf = (filter: OrderFilter, asOf: Date): Where => {
  const { launch, search = "", state = "", source = "", from = "", until = "" } = filter;
  const where = ["s.placed_at <= ?", state === "test" ? "s.test" : "not s.test"];
  const values: unknown[] = [asOf];
  const add = (sql: string, ...of: unknown[]) => {
    where.push(sql);
    values.push(...of);
  };
  if (launch) add("s.launch_id = ?", launch);
  if (source) add("s.source = ?", source);
  // A day is that of the launch's own zone, in which the list shows it.
  const zone = "(select zone from launch z where z.id = s.launch_id)";
  if (from) add(`s.placed_at >= ?::timestamp at time zone ${zone}`, from);
  if (until) add(`s.placed_at < (?::timestamp + interval '1 day') at time zone ${zone}`, until);
  const typed = search.trim();
  const like = anywhere(typed);
  if (typed) {
    // Each its own list, so that each can be found by its own index.
    const number = /^#?(T?)(\d{1,15})$/i.exec(typed);
    add(
      `s.id in (select id from sale_order where contact_id in (select id from contact where lower(first_name) like ? or email like ?)
         union all select order_id from order_line where lower(name) like ? ${number ? "union all select id from sale_order where number = ?" : ""})`,
      ...[like, like, like],
      ...(number ? [number[1] ? -Number(number[2]) : Number(number[2])] : []),
    );
  }
  if (state === "authorized") add(`exists (select ${authorized})`);
  if (state === "refunded") add("exists (select from refund r where r.order_id = s.id and r.state <> 'failed')");
  if (state === "disputed") add("exists (select from dispute d where d.order_id = s.id)");
  if (state === "recovered") add("s.recovered");
  if (state === "recurring") add("exists (select from recurring_payment a where a.order_id = s.id)");
  return { sql: where.join(" and "), values };
};

/** How many orders a filter lets through, up to an instant. */
export const orderCount = async (em: EntityManager, filter: OrderFilter, asOf: Date): Promise<number> => {
  const { sql, values } = whereOf(filter, asOf);
  const [row] = await em.execute<{ n: string }[]>(
    `select count(*) as n from sale_order s join contact c on c.id = s.contact_id where ${sql}`,
    values,
  );
  return Number(row!.n);
};

export interface OrdersOnPage {
  orders: OrderRow[];
  /** Where the next page begins; undefined after the last. */
  next: string | undefined;
}

/**
 * Orders up to an instant that a filter lets through, the newest first unless they are sorted otherwise, with what was bought and who is
 * credited. Which orders stand on the page is found out first: the rest is asked for these alone.
 */
export const orderPage = async (
  em: EntityManager,
  filter: OrderFilter,
  asOf: Date,
  { most, by = "placed", down = true, after, books = false }: OrderPage,
): Promise<OrdersOnPage> => {
  const { sql, values } = whereOf(filter, asOf);
  const [key, type] = keys[by];
  const behind = readCursor(after, type, "number");
  const order = `order by key ${down ? "desc" : "asc"}, number ${down ? "desc" : "asc"}`;
  const rows = await em.execute<Record<string, string | boolean | null>[]>(
    `with page as materialized (
       select s.id, s.number, ${key} as key from sale_order s join contact c on c.id = s.contact_id
       where ${sql}${behind ? ` and (${key}, s.number) ${down ? "<" : ">"} (?::${type}, ?)` : ""} ${order} limit ${Math.trunc(most)}
     )
     select s.id, s.number, s.placed_at, l.zone, coalesce(b.first_name, c.first_name) as first_name, coalesce(b.email, c.email) as email, c.erased_at is not null and b.order_id is null as erased, s.country, s.currency, p.name as partner, s.source, s.recovered, s.test, page.key::text as key_text,
       ${lines} as lines, ${gross} as gross, coalesce((select sum(r.amount_minor) from refund r where r.order_id = s.id and r.state = 'succeeded'), 0) as refunded,
       coalesce((select sum(g.amount_minor) ${authorized}), 0) as authorized,
       (select d.state from dispute d where d.order_id = s.id order by d.opened_at desc limit 1) as dispute
     from page join sale_order s on s.id = page.id join launch l on l.id = s.launch_id join contact c on c.id = s.contact_id left join partner p on p.id = s.partner_id
       left join erased_buyer b on b.order_id = s.id and ${books ? "true" : "false"}
     ${order.replace("key", "page.key").replace("number", "page.number")}`,
    behind ? [...values, ...behind] : values,
  );
  const orders = rows.map((row) => ({
    id: String(row["id"]),
    number: Number(row["number"]),
    placedAt: new Date(String(row["placed_at"])),
    zone: String(row["zone"]),
    buyer: row["erased"] ? "erased" : String(row["first_name"]),
    email: row["erased"] ? "" : String(row["email"]),
    country: String(row["country"]),
    lines: String(row["lines"]),
    grossMinor: Number(row["gross"]),
    refundedMinor: Number(row["refunded"]),
    authorizedMinor: Number(row["authorized"]),
    dispute: row["dispute"] as string | null,
    currency: String(row["currency"]),
    partner: row["partner"] as string | null,
    source: String(row["source"]),
    recovered: row["recovered"] === true,
    test: row["test"] === true,
  }));
  const last = rows.at(-1);
  return { orders, next: last && rows.length === most ? writeCursor([String(last["key_text"]), Number(last["number"])]) : undefined };
};

/** A page of the orders that a filter lets through, and how many there are in all. */
export const orderList = async (
  em: EntityManager,
  filter: OrderFilter,
  asOf: Date,
  page: OrderPage = { most: 200 },
): Promise<OrdersOnPage & { all: number }> => ({
  ...(await orderPage(em, filter, asOf, page)),
  all: await orderCount(em, filter, asOf),
});

import type { AccessNames, AccessSource, Payment, RecurringTerms, Return } from "../../core/delivery";
import { RecurringPayment } from "../payments/tables";
import type { EntityManager } from "../orm";

interface LineRow {
  id: string;
  order_id: string;
  number: string | null;
  product_id: string;
  product: string;
  contents: { id: string; name: string }[];
  gross: string;
  test: boolean;
  at: string;
  authorized: boolean;
  recurring_payment_id: string | null;
  nth: number | null;
  returns: { at: string; gross: number; by: Return["by"] }[];
}

// A line counts from its payment on, or from when the card was asked where its goods are sent later; past the checkout and
// on a marketplace, from its order on. Shipping opens nothing. What a dispute took stands as long as it is open or lost.
const lines = /* sql */ `
select n.id, n.order_id, o.number, n.product_id, p.name as product, n.contents, n.gross_minor as gross, o.test,
  case when g.capture_later then g.created_at else coalesce(g.settled_at, o.placed_at) end as at,
  coalesce(g.state = 'authorized', false) as authorized, g.recurring_payment_id, g.nth,
  coalesce((select json_agg(json_build_object('at', m.at, 'gross', m.gross, 'by', m.by)) from (
    select r.settled_at as at, (i->>'gross')::bigint as gross, 'refund' as by
      from refund r, jsonb_array_elements(r.items) i where r.order_id = o.id and r.state = 'succeeded' and i->>'lineId' = n.id::text
    union all select d.opened_at, (i->>'gross')::bigint, 'dispute'
      from dispute d, jsonb_array_elements(d.items) i where d.order_id = o.id and i->>'lineId' = n.id::text
    union all select d.closed_at, -(i->>'gross')::bigint, 'dispute'
      from dispute d, jsonb_array_elements(d.items) i where d.order_id = o.id and d.state = 'won' and i->>'lineId' = n.id::text
  ) m), '[]') as returns
from sale_order o join order_line n on n.order_id = o.id join product p on p.id = n.product_id left join charge g on g.id = n.charge_id
where o.contact_id = any(?::uuid[]) and n.role <> 'shipping'
order by g.nth nulls first, at, n.id`;

const paymentOf = ({ id, at, gross, returns }: LineRow): Payment => ({
  lineId: id,
  at: new Date(at),
  gross: Number(gross),
  returns: returns.map((one) => ({ at: new Date(one.at), gross: Number(one.gross), by: one.by })),
});

/** All that opens products to some contacts, or opened them, with every movement of money on it; and its names. */
export const accessSources = async (em: EntityManager, contactIds: readonly string[]): Promise<{ sources: AccessSource[]; names: AccessNames }> => {
  const rows = await em.execute<LineRow[]>(lines, [`{${contactIds.join(",")}}`]);
  const recurring = await em.find(RecurringPayment, { orderId: { $in: [...new Set(rows.map((row) => row.order_id))] } });
  const grants = await em.execute<
    {
      id: string;
      name: string;
      product_id: string;
      from_at: string;
      until_at: string | null;
      revoked_at: string | null;
      revoked_because: string | null;
      reason: string;
    }[]
  >(
    `select a.id, p.name, a.product_id, a.from_at, a.until_at, a.revoked_at, a.revoked_because, a.reason from access_grant a join product p on p.id = a.product_id
     where a.contact_id = any(?::uuid[])`,
    [`{${contactIds.join(",")}}`],
  );
  const termsOf = (lineId: string): RecurringTerms | null => {
    const terms = recurring.find((one) => one.lineId === lineId);
    if (!terms) return null;
    const later = rows.filter((row) => row.recurring_payment_id === terms.id).map(paymentOf);
    const { kind, every, firstAt, endedAt, endedBecause } = terms;
    return { kind, every, firstAt, later, endedAt: endedAt ?? null, endedBecause: endedBecause ?? null };
  };
  const bought = rows
    .filter((row) => row.recurring_payment_id === null)
    .map((row): AccessSource => {
      const contents = row.contents.map(({ id }) => id);
      const first = paymentOf(row);
      const { product_id: productId, order_id: orderId, authorized, test } = row;
      return { kind: "purchase", productId, contents, orderId, first, authorized, test, recurring: termsOf(row.id) };
    });
  const granted = grants.map(({ id, product_id: productId, from_at, until_at, revoked_at, revoked_because, reason }): AccessSource => ({
    kind: "grant",
    id,
    productId,
    from: new Date(from_at),
    until: until_at ? new Date(until_at) : null,
    revokedAt: revoked_at ? new Date(revoked_at) : null,
    revokedBecause: revoked_because,
    reason,
  }));
  const products = new Map<string, string>();
  for (const { contents } of rows) for (const part of contents) products.set(part.id, part.name);
  for (const { product_id, product } of rows) products.set(product_id, product);
  for (const { product_id, name } of grants) products.set(product_id, name);
  return {
    sources: [...bought, ...granted],
    names: { products, orders: new Map(rows.map((row) => [row.order_id, Number(row.number ?? 0)])) },
  };
};

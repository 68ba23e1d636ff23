import type { AskedPrice } from "../../core/offers";
import type { EntityManager } from "../orm";

/** Prices that were asked of products in their own currency, the oldest first, by their ids. */
export const askedPrices = async (em: EntityManager, ids: readonly string[]): Promise<Map<string, AskedPrice[]>> => {
  const asked = new Map<string, AskedPrice[]>();
  if (ids.length === 0) return asked;
  const rows = await em.execute<{ product_id: string; minor: string; at: string }[]>(
    `select a.product_id, a.minor, a.at from asked_price a join product p on p.id = a.product_id and p.currency = a.currency where a.product_id = any(?::uuid[]) order by a.at`,
    [`{${ids.join(",")}}`],
  );
  for (const row of rows) asked.set(row.product_id, [...(asked.get(row.product_id) ?? []), { from: new Date(row.at), minor: Number(row.minor) }]);
  return asked;
};

/** Notes that a price is asked from an instant on. The first price of an instant stays. */
export const noteAskedPrice = async (em: EntityManager, productId: string, currency: string, minor: number, at: Date): Promise<void> => {
  await em.execute("insert into asked_price (product_id, currency, minor, at) values (?, ?, ?, ?) on conflict do nothing", [
    productId,
    currency,
    minor,
    at,
  ]);
};

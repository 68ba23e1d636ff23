import type { EntityManager } from "../orm";
import { prepared } from "../prepared";

// Pieces that were paid, and those being charged at this moment. Who only tries things out takes none.
const takenOf = /* sql */ `(select coalesce(sum(n.quantity), 0) from order_line n join sale_order s on s.id = n.order_id
    where n.product_id = ? and n.role not in ('shipping', 'rebill') and not s.test)
  + (select coalesce(sum(coalesce((i->>'quantity')::int, 1)), 0) from charge g join checkout k on k.id = g.checkout_id and not k.test, jsonb_array_elements(g.items) i
    where g.state in ('pending', 'challenge') and i->>'productId' = ? and i->>'role' not in ('shipping', 'rebill'))`;

/** How many pieces of a product are taken. */
export const piecesTaken = async (em: EntityManager, productId: string): Promise<number> => {
  const [row] = await em.execute<{ n: string }[]>(`select ${takenOf} as n`, [productId, productId]);
  return Number(row!.n);
};

/** How many pieces a person has of a product, bought by itself or in a bundle. */
export const piecesOfPerson = async (em: EntityManager, personId: string, productId: string): Promise<number> => {
  const [row] = await em.execute<{ n: string }[]>(
    `select coalesce(sum(n.quantity), 0) as n from order_line n join sale_order s on s.id = n.order_id
     where s.person_id = ? and (n.product_id = ? or n.contents @> ?::jsonb) and n.role not in ('shipping', 'rebill')`,
    [personId, productId, JSON.stringify([{ id: productId }])],
  );
  return Number(row!.n);
};

/** A product of which there are so many in all. */
export interface CountedProduct {
  id: string;
  name: string;
  seats: number;
}

/**
 * How many seats of a launch are taken, and which of some products are counted. The launch's counter is read without a lock,
 * so that nobody waits: two who see the same last seat here are told apart at the commit. Products are locked in the order
 * of their ids, so that two buyers of the same things cannot wait for one another.
 */
export const countedPieces = async (
  tx: EntityManager,
  launchId: string,
  productIds: readonly string[],
): Promise<{ taken: number; products: CountedProduct[] }> => {
  const rows = await prepared<{ id: string | null; name: string | null; seats: number | null; taken: string | null }>(
    tx,
    "seats_left",
    `with counted as (select id, name, seats from product where seats is not null and id = any(?::uuid[]) order by id for no key update)
     select id, name, seats, null::bigint as taken from counted union all select null, null, null, n from seats_taken where launch_id = ?`,
    [`{${productIds.join(",")}}`, launchId],
  );
  return {
    taken: Number(rows.find(({ id }) => id === null)?.taken ?? 0),
    products: rows.flatMap(({ id, name, seats }) => (id !== null ? [{ id, name: name!, seats: seats! }] : [])),
  };
};

/** Steps of a path for which an order's card was charged, or is being charged. */
export const chargedSteps = async (em: EntityManager, checkoutId: string | null | undefined): Promise<Set<string>> => {
  const rows = await em.execute<{ step_id: string }[]>(
    "select step_id from charge where checkout_id = ? and step_id is not null and state <> 'declined'",
    [checkoutId],
  );
  return new Set(rows.map((row) => row.step_id));
};

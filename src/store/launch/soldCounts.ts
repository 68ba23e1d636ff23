import type { Counters } from "../../core/launch";
import type { EntityManager } from "../orm";

/** What is sold of a launch's main product, and its seats as the checkout counts them. */
export const soldCounts = async (em: EntityManager, launchId: string, productId: string): Promise<Counters> => {
  const [row] = await em.execute<{ n: string; taken: string; once: boolean }[]>(
    `select coalesce((select sum(n.quantity) from order_line n join sale_order s on s.id = n.order_id where s.launch_id = ? and n.product_id = ? and n.role = 'front' and not s.test), 0) as n,
       coalesce((select n from seats_taken where launch_id = ?), 0) as taken, coalesce((select sold_out_once from seats_taken where launch_id = ?), false) as once`,
    [launchId, productId, launchId, launchId],
  );
  return { sold: Number(row!.n), taken: Number(row!.taken), soldOutOnce: row!.once };
};

/** The seats of a launch alone, as the checkout counts them: one row. */
export const seatsTaken = async (em: EntityManager, launchId: string): Promise<Counters> => {
  const [row] = await em.execute<{ n: string; once: boolean }[]>("select n, sold_out_once as once from seats_taken where launch_id = ?", [launchId]);
  return { sold: 0, taken: Number(row?.n ?? 0), soldOutOnce: row?.once ?? false };
};

/** Gives seats of a launch back. */
export const freeSeats = async (tx: EntityManager, launchId: string, seats: number): Promise<void> => {
  await tx.execute("select take_seats(?, ?, false)", [launchId, -seats]);
};

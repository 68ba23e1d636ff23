import type { Decision } from "../../core/offers";
import type { EntityManager } from "../orm";

/** Orders of a launch that gave the same answers on the same version of its path. */
export interface Walk {
  version: number;
  answers: Record<string, Decision>;
  orders: number;
  /** Those that saw their thank-you page. */
  arrived: number;
}
/** What was sold of a product at one place: at the checkout (no step), or at a step. Minor units. */
export interface SoldAt {
  productId: string;
  stepId: string | null;
  role: string;
  orders: number;
  gross: number;
  net: number;
  fee: number;
  commission: number;
}

/** How the buyers of a launch walked its offer path up to an instant, and what each place of it sold. Only orders of its own checkout that began with its main product, and money in the currency of its main product. */
export const pathFigures = async (em: EntityManager, launchId: string, asOf: Date): Promise<{ walks: Walk[]; sold: SoldAt[] }> => {
  const walks = await em.execute<{ version: number; answers: Record<string, Decision>; n: string; arrived: string }[]>(
    `select s.path_version as version, coalesce(d.answers, '{}'::jsonb) as answers, count(*) as n, count(*) filter (where s.finished_path_at <= ?) as arrived
     from sale_order s left join (
       select d.order_id, jsonb_object_agg(d.step_id, d.decision) as answers from offer_decision d join sale_order o on o.id = d.order_id
       where o.launch_id = ? and d.at <= ? group by 1
     ) d on d.order_id = s.id
     where s.launch_id = ? and s.placed_at <= ? and s.checkout_id is not null and not s.test
       and exists (select from order_line f where f.order_id = s.id and f.role = 'front') group by 1, 2`,
    [asOf, launchId, asOf, launchId, asOf],
  );
  const sold = await em.execute<Record<"product_id" | "step_id" | "role" | "n" | "gross" | "net" | "fee" | "commission", string>[]>(
    `select n.product_id, n.step_id, n.role, count(*) as n, sum(n.gross_minor) as gross, sum(n.net_minor) as net, sum(n.fee_minor) as fee, coalesce(sum(c.minor), 0) as commission
     from order_line n join sale_order s on s.id = n.order_id left join lateral (select sum(c.minor - c.reversed_minor) as minor from commission c where c.line_id = n.id) c on true
     where s.launch_id = ? and s.placed_at <= ? and s.checkout_id is not null and not s.test
       and s.currency = (select p.currency from launch l join product p on p.id = l.main_product_id where l.id = s.launch_id) group by 1, 2, 3`,
    [launchId, asOf],
  );
  return {
    walks: walks.map((row) => ({ version: row.version, answers: row.answers, orders: Number(row.n), arrived: Number(row.arrived) })),
    sold: sold.map((row) => ({
      productId: row.product_id,
      stepId: (row.step_id as string | null) ?? null,
      role: row.role,
      orders: Number(row.n),
      gross: Number(row.gross),
      net: Number(row.net),
      fee: Number(row.fee),
      commission: Number(row.commission),
    })),
  };
};

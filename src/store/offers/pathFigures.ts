import type { Decision } from "../../core/offers";
import type { FigureScope } from "../../core/figures";
import { ordersIn } from "../checkout/ordersIn";
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

/**
 * How the buyers of a launch walked its offer path up to an instant, and what each place of it sold, in one currency. Only orders of its own
 * checkout that began with its main product.
 */
export const pathFigures = async (
  em: EntityManager,
  scope: FigureScope & { launchId: string },
  currency: string,
): Promise<{ walks: Walk[]; sold: SoldAt[] }> => {
  const orders = ordersIn(scope);
  const [walks, sold] = await Promise.all([
    em.execute<{ version: number; answers: Record<string, Decision>; n: string; arrived: string }[]>(
      `select s.path_version as version, coalesce(d.answers, '{}'::jsonb) as answers, count(*) as n, count(*) filter (where s.finished_path_at <= ?) as arrived
       from ? left join (
         select d.order_id, jsonb_object_agg(d.step_id, d.decision) as answers from offer_decision d join sale_order o on o.id = d.order_id
         where o.launch_id = ? and d.at <= ? group by 1
       ) d on d.order_id = s.id
       where s.checkout_id is not null and exists (select from order_line f where f.order_id = s.id and f.role = 'front') group by 1, 2`,
      [scope.now, orders, scope.launchId, scope.now],
    ),
    em.execute<Record<"product_id" | "step_id" | "role" | "n" | "gross" | "net" | "fee" | "commission", string>[]>(
      `select n.product_id, n.step_id, n.role, count(*) as n, sum(n.gross_minor) as gross, sum(n.net_minor) as net, sum(n.fee_minor) as fee, coalesce(sum(c.minor), 0) as commission
       from ? join order_line n on n.order_id = s.id left join (select line_id, sum(minor - reversed_minor) as minor from commission group by 1) c on c.line_id = n.id
       where s.checkout_id is not null and s.currency = ? group by 1, 2, 3`,
      [orders, currency],
    ),
  ]);
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

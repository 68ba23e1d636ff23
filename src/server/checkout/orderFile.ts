import { formatAmount, orderNumber, type OrderFilter } from "../../core/money";
import type { DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { orderPage, type OrderPage } from "../../store/checkout/orderList";
import { csvResponse, mustBeAllowed } from "../platform";

const columns = [
  "order",
  "placed_at",
  "buyer",
  "email",
  "country",
  "lines",
  "paid",
  "refunded",
  "authorized",
  "currency",
  "partner",
  "source",
  "dispute",
];
const atOnce = 1_000;

type Sorting = Pick<OrderPage, "by" | "down">;

async function* batches(em: EntityManager, filter: OrderFilter, asOf: Date, sorting: Sorting): AsyncGenerator<Record<string, unknown>[]> {
  for (let after: string | undefined; ;) {
    const { orders, next } = await orderPage(em, filter, asOf, { ...sorting, most: atOnce, after, books: true });
    if (orders.length > 0)
      yield orders.map((order) => ({
        order: orderNumber(order.number),
        placed_at: order.placedAt.toISOString(),
        buyer: order.buyer,
        email: order.email,
        country: order.country,
        lines: order.lines,
        paid: formatAmount(order.grossMinor, order.currency),
        refunded: formatAmount(order.refundedMinor, order.currency),
        authorized: formatAmount(order.authorizedMinor, order.currency),
        currency: order.currency,
        partner: order.partner ?? "",
        source: order.source,
        dispute: order.dispute ?? "",
      }));
    if (next === undefined) return;
    after = next;
  }
}

/** The orders that a filter lets through, up to an instant, in the order that is asked for, as a CSV file. */
export const orderFile = (em: EntityManager, user: DeskUser, filter: OrderFilter, asOf: Date, sorting: Sorting): Response => {
  mustBeAllowed(user, "order.export");
  return csvResponse("orders.csv", columns, batches(em, filter, asOf, sorting));
};

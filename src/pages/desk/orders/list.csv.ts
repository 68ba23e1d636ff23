import type { APIRoute } from "astro";
import { stringify } from "csv-stringify/sync";
import { minorDigits } from "../../../core/money";
import { listLaunches } from "../../../server/launch/deskLaunch";
import { orderFilterOf } from "../../../server/offers/orderFilter";
import { orderList } from "../../../store/reports/orderList";

/** What is shown of the orders, as a file (RFC 4180); formulas are neutralised. */
export const GET: APIRoute = async ({ url, locals: { em, asOf } }) => {
  const { orders } = await orderList(em, orderFilterOf(url.searchParams, await listLaunches(em)), asOf, 100_000);
  const amount = (minor: number, currency: string) => (minor / 10 ** minorDigits(currency)).toFixed(minorDigits(currency));
  const rows = orders.map((order) => ({
    ...{ order: order.number, placed_at: order.placedAt.toISOString(), buyer: order.buyer, email: order.email, country: order.country },
    ...{
      lines: order.lines,
      paid: amount(order.grossMinor, order.currency),
      refunded: amount(order.refundedMinor, order.currency),
      held: amount(order.heldMinor, order.currency),
    },
    ...{ currency: order.currency, partner: order.partner ?? "", source: order.source, dispute: order.dispute ?? "" },
  }));
  const columns = [
    "order",
    "placed_at",
    "buyer",
    "email",
    "country",
    "lines",
    "paid",
    "refunded",
    "held",
    "currency",
    "partner",
    "source",
    "dispute",
  ];
  return new Response(stringify(rows, { header: true, columns, escape_formulas: true, record_delimiter: "windows" }), {
    headers: { "content-type": "text/csv; charset=utf-8", "content-disposition": 'attachment; filename="orders.csv"' },
  });
};

import { publicWords } from "../../core/words";
import { randomUUID } from "node:crypto";
import { feesOf, paymentDay, type ChargeItem } from "../../core/offers";
import { paymentPostings } from "../../core/money";
import { Product, type Charge } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mergeRows, type SaleRows } from "../../store/payments/writeSale";
import { emailRows } from "../../store/emails/queueEmail";
import { journalRows } from "../money";
import type { LaunchContext } from "../launch";
import { paymentWork } from "./recurringPayments";
import type { Line, Placed, Sold } from "./sold";

/** Products of a charge: as the launch knows them, or as they were sold before its pages changed. */
export const productsOf = async (em: EntityManager, context: LaunchContext, ids: readonly string[]): Promise<ReadonlyMap<string, Product>> => {
  const missing = ids.filter((id) => !context.products.has(id));
  if (missing.length === 0) return context.products;
  const rows = await em.find(Product, { id: { $in: missing } });
  return new Map([...context.products, ...rows.map((one) => [one.id, one] as const)]);
};

const nameOf = ({ name }: Product, { role, quantity = 1 }: ChargeItem): string => {
  if (role === "shipping") return publicWords().checkout.shipping(name);
  return quantity > 1 ? `${quantity} × ${name}` : name;
};

/** The recurring payment to what is charged again by itself, with the work that takes the first payment on its day. */
const recurringPaymentRows = (
  orderId: string,
  lineId: string,
  { productId, quantity = 1 }: ChargeItem,
  kind: "instalments" | "subscription",
  later: NonNullable<ChargeItem["later"]>,
  now: Date,
) => {
  const { every, minor, times, firstAfterDays } = later;
  // After a trial the first payment is due when it ends; else one interval after what was paid at once.
  const first = firstAfterDays === undefined ? paymentDay(now, every, 1) : new Date(now.getTime() + firstAfterDays * 86_400_000);
  const id = randomUUID();
  const row = { id, order_id: orderId, line_id: lineId, product_id: productId, kind, minor, quantity, every, payments_left: times };
  return { recurring_payment: [{ ...row, begun_at: now, first_at: first, next_at: first }], outbox: [paymentWork(id, first)] };
};

/** The lines of a charge, each with its part of the fee and what is paid later. Who tries things out agrees to nothing. */
export const lineRows = (
  products: ReadonlyMap<string, Product>,
  order: Placed,
  charge: Pick<Charge, "id" | "stepId" | "items">,
  fee: number,
  now: Date,
): { rows: SaleRows; lines: Line[] } => {
  const fees = feesOf(charge.items, fee);
  const lines: Line[] = [];
  const parts = charge.items.map((item, index): SaleRows => {
    const { productId, gross, tax, role, rateBp, quantity = 1, discount = 0 } = item;
    const id = randomUUID();
    const net = gross - tax;
    const feeMinor = fees[index]!;
    lines.push({ id, productId, role, netMinor: net, taxMinor: tax, feeMinor });
    const row = {
      id,
      order_id: order.id,
      charge_id: charge.id,
      product_id: productId,
      step_id: charge.stepId,
      role,
      name: nameOf(products.get(productId)!, item),
      net_minor: net,
      tax_minor: tax,
      gross_minor: gross,
      rate_bp: rateBp,
      fee_minor: feeMinor,
      discount_minor: discount,
      quantity,
    };
    const kind = products.get(productId)!.terms.kind === "instalments" ? "instalments" : "subscription";
    return { order_line: [row], ...(item.later && !order.test ? recurringPaymentRows(order.id, id, item, kind, item.later, now) : {}) };
  });
  return { rows: mergeRows(...parts), lines };
};

/** What the books say of lines whose money is here: a journal each. Who tries things out books nothing. */
export const paidRows = (order: Placed, lines: readonly Line[], now: Date): SaleRows => {
  const { id: orderId, currency } = order;
  if (order.test) return {};
  return mergeRows(
    ...lines.map(({ id: lineId, netMinor: net, taxMinor: tax, feeMinor: fee }) =>
      journalRows("payment", { orderId, lineId }, paymentPostings({ net, tax, fee, currency }), now),
    ),
  );
};

/** The lines as those know them who react to a sale. */
export const soldLines = (products: ReadonlyMap<string, Product>, lines: readonly Line[]): Sold["lines"] =>
  lines.map(({ id, productId, role, netMinor }) => ({ id, productId, role, netMinor, refundDays: products.get(productId)!.refundDays }));

/** The receipt of an order, or of one line that was paid after the order's own had gone out. */
export const receiptRows = ({ id, launchId, contactId }: Pick<Placed, "id" | "launchId" | "contactId">, dueAt: Date, lineId?: string): SaleRows =>
  emailRows({
    key: lineId ? `receipt:${id}:${lineId}` : `receipt:${id}`,
    kind: "receipt",
    launchId,
    contactId,
    dueAt,
    data: lineId ? { orderId: id, lineId } : { orderId: id },
  });

import { randomUUID } from "node:crypto";
import { feesOf } from "../../core/offers";
import { RecurringPayment, Order, OrderLine, Refund, type Charge } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import type { ChargeResult } from "../../outside/cardProcessor";
import { endRecurringPayment } from "./recurringPayments";
import { leftOf, refundableLines } from "./refundable";
import type { Line } from "./sold";

/** The lines of a charge that was held, each with its part of the fee, now that it is taken. */
export const capturedLines = async (em: EntityManager, { id, items }: Charge, fee: number): Promise<Line[]> => {
  const fees = feesOf(items, fee);
  const lines = await em.find(OrderLine, { chargeId: id });
  return items.map(({ productId, role }, index) => {
    const line = lines.find((one) => one.productId === productId && one.role === role)!;
    return { id: line.id, productId, role, netMinor: line.netMinor, taxMinor: line.taxMinor, feeMinor: fees[index]! };
  });
};

/** What was held is taken: its order was sent, and its lines cost their fee. */
export const noteCaptured = async (tx: EntityManager, orderId: string, lines: readonly Line[], now: Date): Promise<void> => {
  for (const { id, feeMinor } of lines) await tx.nativeUpdate(OrderLine, { id }, { feeMinor });
  await tx.nativeUpdate(Order, { id: orderId, fulfilledAt: null }, { fulfilledAt: now });
};

/**
 * What was held is let go of, by the desk or by the bank: its lines count as given back, though no money moved and nothing
 * was booked, and nothing more is charged for them.
 */
export const noteVoided = async (tx: EntityManager, charge: Charge, { id }: ChargeResult, now: Date): Promise<void> => {
  const order = await tx.findOneOrFail(Order, { checkoutId: charge.checkoutId });
  const asked = await tx.find(Refund, { chargeId: charge.id, state: "pending" });
  for (const refund of asked) Object.assign(refund, { state: "succeeded", processorId: id, settledAt: now });
  await tx.flush();
  const items = leftOf(await refundableLines(tx, order.id), charge.id);
  if (items.length > 0) {
    const amountMinor = items.reduce((sum, { gross }) => sum + gross, 0);
    const row = { id: randomUUID(), orderId: order.id, chargeId: charge.id, amountMinor, currency: charge.currency, items };
    const reason = "The bank let go of the payment before it was taken.";
    tx.persist(tx.create(Refund, { ...row, reason, state: "succeeded", processorId: id, askedAt: now, settledAt: now, askedBy: null }));
    await tx.flush();
  }
  const lines = await tx.find(OrderLine, { chargeId: charge.id });
  for (const recurringPayment of await tx.find(RecurringPayment, { lineId: { $in: lines.map((line) => line.id) }, endedAt: null }))
    await endRecurringPayment(tx, recurringPayment.id, "refunded", now);
};

import { LockMode } from "@mikro-orm/core";
import { fullMoment } from "../../core/words";
import { paymentDay, paymentsWords, retryAt } from "../../core/offers";
import { RecurringPayment, Product, type DeskUser, type Order } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, queue, required, workRow } from "../platform";
import { ratesFor } from "../offers";

const keyOf = (id: string) => `payment:${id}`;
const waitFor = (em: EntityManager, id: string, at: Date): Promise<void> => queue(em, "charge_recurring_payment", { id }, at, keyOf(id));

/** The work that charges a recurring payment for the first time, on its day. */
export const paymentWork = (id: string, at: Date) => workRow("charge_recurring_payment", { id }, at, keyOf(id));

/** A recurring payment that nobody else changes meanwhile. */
export const lockedRecurringPayment = (em: EntityManager, id: string) =>
  em.findOneOrFail(RecurringPayment, { id }, { lockMode: LockMode.PESSIMISTIC_WRITE });

/** A payment went through: counted, and the next one waits for its day on the first one's calendar. */
export const notePaid = async (em: EntityManager, id: string, now: Date): Promise<void> => {
  const recurringPayment = await lockedRecurringPayment(em, id);
  recurringPayment.paid += 1;
  recurringPayment.tries = 0;
  if (recurringPayment.paymentsLeft !== null && recurringPayment.paymentsLeft !== undefined) recurringPayment.paymentsLeft -= 1;
  if (recurringPayment.paymentsLeft === 0) Object.assign(recurringPayment, { state: "done", endedAt: now, endedBecause: "paid" });
  // Ended while this payment was under way: it was the last.
  else if (!recurringPayment.endedAt) {
    Object.assign(recurringPayment, { state: "active", nextAt: paymentDay(recurringPayment.firstAt, recurringPayment.every, recurringPayment.paid) });
    await waitFor(em, id, recurringPayment.nextAt);
  }
  await em.flush();
};

/** A payment was refused: tried again in some days, or the recurring payment ends. */
export const noteRefused = async (em: EntityManager, id: string, declineCode: string | undefined, now: Date): Promise<void> => {
  const recurringPayment = await lockedRecurringPayment(em, id);
  if (recurringPayment.endedAt) return;
  recurringPayment.tries += 1;
  const again = retryAt(declineCode, recurringPayment.tries, now);
  if (!again) Object.assign(recurringPayment, { state: "ended", endedAt: now, endedBecause: "card_refused" });
  else {
    Object.assign(recurringPayment, { state: "late", nextAt: again });
    await waitFor(em, recurringPayment.id, again);
  }
  await em.flush();
};

/** Ends what is charged again by itself; what was paid stays paid. Ending twice is ending once. */
export const endRecurringPayment = async (em: EntityManager, id: string, because: string, now: Date): Promise<void> => {
  await em.transactional(async (tx) => {
    const recurringPayment = await lockedRecurringPayment(tx, id);
    if (recurringPayment.endedAt) return;
    Object.assign(recurringPayment, { state: "ended", endedAt: now, endedBecause: because });
    await tx.flush();
  });
};

/** Ends one at the desk. */
export const endAtDesk = async (em: EntityManager, user: DeskUser, id: string, now: Date): Promise<void> => {
  mustBeAllowed(user, "recurring.end");
  required(await em.findOne(RecurringPayment, { id }), "recurring_payment");
  await endRecurringPayment(em, id, "by_vendor", now);
};

export interface RecurringPaymentLine {
  id: string;
  orderId: string;
  words: string;
  /** Whether its buyer can end it: instalments of a price are owed. */
  ends: boolean;
}

/** What is charged again by itself on orders of one buyer, in words, with its next day in the given zones of the orders. */
export const recurringPaymentLines = async (
  em: EntityManager,
  orders: Order[],
  zoneOf: (order: Order) => string,
): Promise<RecurringPaymentLine[]> => {
  const recurringPayments = await em.find(RecurringPayment, { orderId: { $in: orders.map(({ id }) => id) } }, { orderBy: { begunAt: 1 } });
  const products = new Map(
    (await em.find(Product, { id: { $in: recurringPayments.map(({ productId }) => productId) } })).map((one) => [one.id, one]),
  );
  return Promise.all(
    recurringPayments.map(async (one) => {
      const [order, product] = [orders.find(({ id }) => id === one.orderId)!, products.get(one.productId)!];
      const rates = await ratesFor(em, { country: order.country, region: order.region, reverse: order.reverseCharge }, order.placedAt);
      const due = { minor: one.minor, every: one.every, times: one.paymentsLeft ?? null };
      // What a recurring payment charges is for all that was ordered of its product.
      const amount = paymentsWords(due, rates(one.minor, product.taxMode, product.taxClass).gross, order.currency);
      const ended = one.state === "done" ? "all is paid" : "no further payment is taken";
      const words = one.endedAt ? `${ended}.` : `${amount} Next on ${fullMoment(one.nextAt, zoneOf(order))}.`;
      return { id: one.id, orderId: one.orderId, words: `${product.name}: ${words}`, ends: !one.endedAt && product.terms.kind === "subscription" };
    }),
  );
};

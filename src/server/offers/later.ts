import { LockMode } from "@mikro-orm/core";
import { fullMoment } from "../../core/launch";
import { paymentDay, paymentsWords, retryAt } from "../../core/offers";
import { Agreement, Product, type DeskUser, type Order } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed } from "../app/access";
import { queue, workRow } from "../app/outbox";
import { required } from "../app/refusal";
import { ratesFor } from "./quote";

const keyOf = (id: string) => `payment:${id}`;
const waitFor = (em: EntityManager, id: string, at: Date): Promise<void> => queue(em, "take_payment", { id }, at, keyOf(id));

/** The work that takes the first payment of an agreement on its day. */
export const paymentWork = (id: string, at: Date) => workRow("take_payment", { id }, at, keyOf(id));

/** An agreement that nobody else changes meanwhile. */
export const lockedAgreement = (em: EntityManager, id: string) => em.findOneOrFail(Agreement, { id }, { lockMode: LockMode.PESSIMISTIC_WRITE });

/** A payment went through: counted, and the next one waits for its day on the first one's calendar. */
export const paidLater = async (em: EntityManager, id: string, now: Date): Promise<void> => {
  const agreement = await lockedAgreement(em, id);
  agreement.paid += 1;
  agreement.tries = 0;
  if (agreement.paymentsLeft !== null && agreement.paymentsLeft !== undefined) agreement.paymentsLeft -= 1;
  if (agreement.paymentsLeft === 0) Object.assign(agreement, { state: "done", endedAt: now, endedBecause: "paid" });
  // Ended while this payment was under way: it was the last.
  else if (!agreement.endedAt) {
    Object.assign(agreement, { state: "active", nextAt: paymentDay(agreement.firstAt, agreement.every, agreement.paid) });
    await waitFor(em, id, agreement.nextAt);
  }
  await em.flush();
};

/** A payment was refused: tried again in some days, or the agreement ends. */
export const refusedLater = async (em: EntityManager, id: string, declineCode: string | undefined, now: Date): Promise<void> => {
  const agreement = await lockedAgreement(em, id);
  if (agreement.endedAt) return;
  agreement.tries += 1;
  const again = retryAt(declineCode, agreement.tries, now);
  if (!again) Object.assign(agreement, { state: "ended", endedAt: now, endedBecause: "card_refused" });
  else {
    Object.assign(agreement, { state: "late", nextAt: again });
    await waitFor(em, agreement.id, again);
  }
  await em.flush();
};

/** Ends what is charged again by itself; what was paid stays paid. Ending twice is ending once. */
export const endAgreement = async (em: EntityManager, id: string, because: string, now: Date): Promise<void> => {
  await em.transactional(async (tx) => {
    const agreement = await lockedAgreement(tx, id);
    if (agreement.endedAt) return;
    Object.assign(agreement, { state: "ended", endedAt: now, endedBecause: because });
    await tx.flush();
  });
};

/** Ends one at the desk. */
export const endAtDesk = async (em: EntityManager, user: DeskUser, id: string, now: Date): Promise<void> => {
  mustBeAllowed(user, "recurring.end");
  required(await em.findOne(Agreement, { id }), "recurring payment");
  await endAgreement(em, id, "by_vendor", now);
};

export interface LaterPayment {
  id: string;
  orderId: string;
  words: string;
  /** Whether its buyer can end it: instalments of a price are owed. */
  ends: boolean;
}

/** What is charged again by itself on orders of one buyer, in words, with its next day in the given zones of the orders. */
export const laterPayments = async (em: EntityManager, orders: Order[], zoneOf: (order: Order) => string): Promise<LaterPayment[]> => {
  const agreements = await em.find(Agreement, { orderId: { $in: orders.map(({ id }) => id) } }, { orderBy: { begunAt: 1 } });
  const products = new Map((await em.find(Product, { id: { $in: agreements.map(({ productId }) => productId) } })).map((one) => [one.id, one]));
  return Promise.all(
    agreements.map(async (one) => {
      const [order, product] = [orders.find(({ id }) => id === one.orderId)!, products.get(one.productId)!];
      const rates = await ratesFor(em, { country: order.country, region: order.region, reverse: order.reverseCharge }, order.placedAt);
      const due = { minor: one.minor, every: one.every, times: one.paymentsLeft ?? null };
      // What an agreement charges is for all that was ordered of its product.
      const amount = paymentsWords(due, rates(one.minor, product.taxMode, product.taxClass).gross, order.currency);
      const ended = one.state === "done" ? "all is paid" : "no further payment is taken";
      const words = one.endedAt ? `${ended}.` : `${amount} Next on ${fullMoment(one.nextAt, zoneOf(order))}.`;
      return { id: one.id, orderId: one.orderId, words: `${product.name}: ${words}`, ends: !one.endedAt && product.terms.kind === "subscription" };
    }),
  );
};

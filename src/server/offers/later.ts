import { LockMode } from "@mikro-orm/core";
import { paymentDay, retryAt } from "../../core/offers";
import { Agreement } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { queue, workRow } from "../app/outbox";

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

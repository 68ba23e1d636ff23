import type { EntityManager } from "../orm";
import { prepared } from "../prepared";
import type { Checkout } from "../checkout/tables";
import type { Charge } from "./tables";

/** A charge that is about to be asked for. */
export type NewCharge = Pick<Charge, "id" | "idempotencyKey" | "checkoutId" | "amountMinor" | "currency" | "items" | "card" | "returnUrl"> &
  Partial<Pick<Charge, "stepId" | "coupon" | "recurringPaymentId" | "nth" | "captureLater">>;

/** What a buyer said with the press that pays their checkout. */
export type SaidAtPay = Pick<Checkout, "email" | "firstName" | "country" | "contactId" | "agreed">;

/** Writes a charge, what its buyer said with it, and the work that looks after it: one statement. */
export const insertCharge = async (
  tx: EntityManager,
  charge: NewCharge,
  work: { topic: string; payload: { id: string }; key: string; due_at: Date },
  now: Date,
  said?: SaidAtPay,
): Promise<Charge> => {
  const {
    id,
    idempotencyKey,
    checkoutId,
    amountMinor,
    currency,
    items,
    card,
    returnUrl,
    stepId = null,
    coupon = null,
    recurringPaymentId = null,
    nth = null,
    captureLater = false,
  } = charge;
  await prepared(
    tx,
    "begin_charge",
    `with begun as (
       insert into charge (id, idempotency_key, checkout_id, step_id, coupon, recurring_payment_id, nth, capture_later, state, amount_minor, currency, items, card, return_url, created_at)
       values (?, ?, ?, ?, ?, ?, ?, ?, 'pending', ?, ?, ?::jsonb, ?, ?, ?)
     ), said as (
       update checkout set email = r->>'email', first_name = r->>'firstName', country = r->>'country', contact_id = (r->>'contactId')::uuid, agreed = r->'agreed',
         last_activity_at = ?
       from (select ?::jsonb as r) as one where id = ? and r is not null
     ) insert into outbox (topic, payload, key, due_at) values (?, ?::jsonb, ?, ?)`,
    [
      id,
      idempotencyKey,
      checkoutId,
      stepId,
      coupon,
      recurringPaymentId,
      nth,
      captureLater,
      amountMinor,
      currency,
      JSON.stringify(items),
      card,
      returnUrl,
      now,
      now,
      said ? JSON.stringify(said) : null,
      checkoutId,
      work.topic,
      JSON.stringify(work.payload),
      work.key,
      work.due_at,
    ],
  );
  const unanswered = { processorId: null, challengeUrl: null, declineCode: null, settledAt: null, captureAskedAt: null };
  return { ...charge, stepId, coupon, recurringPaymentId, nth, captureLater, state: "pending", createdAt: now, ...unanswered };
};

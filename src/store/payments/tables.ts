import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import type { ChargeItem, ChargeState, DisputeState, Every, RecurringPaymentState, RefundItem, RefundState } from "../../core/offers";
import { at, minor } from "../columns";

export const Charge = defineEntity({
  name: "Charge",
  tableName: "charge",
  properties: {
    id: p.uuid().primary(),
    idempotencyKey: p.text(),
    checkoutId: p.uuid(),
    stepId: p.uuid().nullable(),
    state: p.text().$type<ChargeState>(),
    amountMinor: minor(),
    currency: p.text(),
    /** What it is for, line by line; the amount is their sum. */
    items: p.json().$type<ChargeItem[]>(),
    /** The code whose discount is in it. */
    coupon: p.text().nullable(),
    card: p.text(),
    returnUrl: p.text(),
    /** Which of its recurring payments it is, counted from 1. */
    recurringPaymentId: p.uuid().nullable(),
    nth: p.integer().nullable(),
    processorId: p.text().nullable(),
    challengeUrl: p.text().nullable(),
    declineCode: p.text().nullable(),
    /** Held on the card until the goods are sent. */
    captureLater: p.boolean().default(false),
    /** When the desk asked for it to be taken. */
    captureAskedAt: at().nullable(),
    createdAt: at(),
    settledAt: at().nullable(),
  },
});
/** What is charged again by itself: instalments of a price, or a subscription. */
export const RecurringPayment = defineEntity({
  name: "RecurringPayment",
  tableName: "recurring_payment",
  properties: {
    id: p.uuid().primary(),
    orderId: p.uuid(),
    lineId: p.uuid(),
    productId: p.uuid(),
    /** Instalments end with their price; a subscription lasts as long as it is paid. */
    kind: p.text().$type<"instalments" | "subscription">(),
    /** One payment as its product prices it, tax in or out as the product says. */
    minor: minor(),
    quantity: p.integer().default(1),
    every: p.json().$type<Every>(),
    /** Null until it is ended. */
    paymentsLeft: p.integer().nullable(),
    paid: p.integer().default(0),
    /** Refused attempts at the payment that is due. */
    tries: p.integer().default(0),
    begunAt: at(),
    firstAt: at(),
    nextAt: at(),
    state: p.text().$type<RecurringPaymentState>().default("active"),
    endedAt: at().nullable(),
    endedBecause: p.text().nullable(),
  },
});
export const Refund = defineEntity({
  name: "Refund",
  tableName: "refund",
  properties: {
    id: p.uuid().primary(),
    orderId: p.uuid(),
    chargeId: p.uuid(),
    /** The press of a form that asked for it. */
    act: p.uuid().nullable(),
    amountMinor: minor(),
    currency: p.text(),
    items: p.json().$type<RefundItem[]>(),
    reason: p.text(),
    state: p.text().$type<RefundState>().default("pending"),
    processorId: p.text().nullable(),
    askedAt: at(),
    settledAt: at().nullable(),
    askedBy: p.uuid().nullable(),
  },
});
export const Dispute = defineEntity({
  name: "Dispute",
  tableName: "dispute",
  properties: {
    id: p.uuid().primary(),
    orderId: p.uuid(),
    chargeId: p.uuid(),
    processorId: p.text(),
    amountMinor: minor(),
    feeMinor: minor(),
    currency: p.text(),
    reason: p.text(),
    state: p.text().$type<DisputeState>(),
    /** What it took of each line. */
    items: p.json().$type<RefundItem[]>(),
    openedAt: at(),
    closedAt: at().nullable(),
  },
});

export type Charge = InferEntity<typeof Charge>;
export type RecurringPayment = InferEntity<typeof RecurringPayment>;
export type Refund = InferEntity<typeof Refund>;
export type Dispute = InferEntity<typeof Dispute>;

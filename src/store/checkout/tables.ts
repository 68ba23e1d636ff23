import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import type { Agreed, Evidence, LineRole } from "../../core/offers";
import type { CreditExplanation } from "../../core/partners";
import { at, minor } from "../columns";

export const Checkout = defineEntity({
  name: "Checkout",
  tableName: "checkout",
  properties: {
    id: p.uuid().primary(),
    visitorId: p.uuid(),
    launchId: p.uuid(),
    personId: p.uuid(),
    contactId: p.uuid().nullable(),
    email: p.text().nullable(),
    firstName: p.text().nullable(),
    country: p.text().nullable(),
    begunAt: at(),
    lastActivityAt: at(),
    paidAt: at().nullable(),
    recoveryEmailId: p.uuid().nullable(),
    recoveredThroughEmail: p.boolean(),
    vatNumber: p.text().nullable(),
    /** The code that its buyer typed or came by; whether it holds is judged when it is shown and when it is paid. */
    coupon: p.text().nullable(),
    /** The region of the browser's language, as a piece of evidence of where the buyer is. */
    browserCountry: p.text().nullable(),
    /** The products of the bumps that are ticked. */
    bumps: p.array().columnType("uuid[]").default([]),
    quantity: p.integer().default(1),
    /** The price that the buyer named, where they may. */
    namedMinor: p.bigint("number").nullable(),
    /** The currency they pay in; null for the main product's own. */
    currency: p.text().nullable(),
    /** What is bought instead of the launch's main product: an offer by itself. */
    productId: p.uuid().nullable(),
    /** The price that was shown, held until an instant. */
    priceHoldMinor: p.bigint("number").nullable(),
    priceHoldUntil: at().nullable(),
    /** What the buyer agreed to, in the words that were shown. */
    agreed: p
      .json()
      .$type<Agreed[]>()
      .onCreate(() => []),
    /** Where in the country, where a region has a tax rate of its own. */
    region: p.text().default(""),
    /** Only tries things out: with test cards, and outside every figure. */
    test: p.boolean().default(false),
  },
});
export const Order = defineEntity({
  name: "Order",
  tableName: "sale_order",
  properties: {
    id: p.uuid().primary(),
    number: p.bigint("number").autoincrement().nullable(),
    launchId: p.uuid(),
    checkoutId: p.uuid().nullable(),
    contactId: p.uuid(),
    personId: p.uuid(),
    currency: p.text(),
    placedAt: at(),
    country: p.text(),
    cardRef: p.text().nullable(),
    cardLast4: p.text().nullable(),
    source: p.text(),
    externalId: p.text().nullable(),
    partnerId: p.uuid().nullable(),
    credit: p.json().$type<CreditExplanation>(),
    recovered: p.boolean(),
    finishedPathAt: at().nullable(),
    vatNumber: p.text().nullable(),
    /** The buyer accounts for the tax: a business of another member state. */
    reverseCharge: p.boolean().default(false),
    /** What shows where the buyer is. */
    evidence: p
      .json()
      .$type<Evidence[]>()
      .onCreate(() => []),
    /** The version of the offer path that this buyer walks to its end. */
    pathVersion: p.integer().default(0),
    agreed: p
      .json()
      .$type<Agreed[]>()
      .onCreate(() => []),
    test: p.boolean().default(false),
    region: p.text().default(""),
    /** When its goods were sent, where their payment waited for that. */
    fulfilledAt: at().nullable(),
  },
});
export const OrderLine = defineEntity({
  name: "OrderLine",
  tableName: "order_line",
  properties: {
    id: p.uuid().primary(),
    orderId: p.uuid(),
    chargeId: p.uuid().nullable(),
    productId: p.uuid(),
    stepId: p.uuid().nullable(),
    role: p.text().$type<LineRole>(),
    name: p.text(),
    netMinor: minor(),
    taxMinor: minor(),
    grossMinor: minor(),
    rateBp: p.integer(),
    feeMinor: minor(),
    /** What a coupon took off it, before tax. */
    discountMinor: minor().default(0),
    quantity: p.integer().default(1),
    /** What a bundle held when it was sold; written by the database. */
    contents: p
      .json()
      .$type<{ id: string; name: string }[]>()
      .onCreate(() => []),
  },
});

export type Checkout = InferEntity<typeof Checkout>;
export type Order = InferEntity<typeof Order>;
export type OrderLine = InferEntity<typeof OrderLine>;

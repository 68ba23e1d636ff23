import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import { type ChargeTime, type Coupon as Discount, type PriceTerms, type Prices, type ProductKind, once } from "../../core/offers";
import { at, minor } from "../columns";

export const Product = defineEntity({
  name: "Product",
  tableName: "product",
  properties: {
    id: p.uuid().primary(),
    name: p.text(),
    privateLabel: p.text(),
    taxClass: p.text(),
    refundDays: p.integer(),
    description: p.text(),
    priceMinor: minor(),
    currency: p.text(),
    taxMode: p.text().$type<"inclusive" | "exclusive">(),
    kind: p.text().$type<ProductKind>().default("download"),
    /** Sold by itself only: its checkout has no bumps. */
    alone: p.boolean().default(false),
    onSale: p.boolean().default(true),
    /** Whether its buyers get access at once, by a way of the vendor's own. */
    accessAtOnce: p.boolean().default(false),
    /** How often one person may buy it; null for as often as they like. */
    limitPerPerson: p.integer().nullable(),
    /** How many are sold in all; null for any number. */
    seats: p.integer().nullable(),
    /** When the card is charged: at once, or when it is sent. */
    chargeWhen: p.text().$type<ChargeTime>().default("at_once"),
    /** The products that a bundle is sold with. */
    contents: p.array().columnType("uuid[]").default([]),
    /** How its price is paid. */
    terms: p
      .json()
      .$type<PriceTerms>()
      .onCreate(() => once),
    /** What it costs in other currencies: minor units by ISO 4217 code. */
    prices: p
      .json()
      .$type<Prices>()
      .onCreate(() => ({})),
    /** The picture beside it where it is offered. */
    mediaId: p.uuid().nullable(),
    /** Counts what was saved, so that two people do not overwrite one another. */
    rowVersion: p.integer().fieldName("version").default(1),
  },
});
/** A price that was asked of a product, from an instant on. */
export const AskedPrice = defineEntity({
  name: "AskedPrice",
  tableName: "asked_price",
  properties: {
    productId: p.uuid().primary(),
    currency: p.text().primary(),
    at: at().primary(),
    minor: minor(),
  },
});
export const Coupon = defineEntity({
  name: "Coupon",
  tableName: "coupon",
  properties: {
    id: p.uuid().primary(),
    label: p.text(),
    off: p.json().$type<Discount["off"]>(),
    products: p.array().columnType("uuid[]").nullable(),
    fromAt: at().nullable(),
    untilAt: at().nullable(),
    uses: p.integer().nullable(),
    oncePerPerson: p.boolean(),
    stoppedAt: at().nullable(),
    createdAt: at(),
    createdBy: p.uuid().nullable(),
    partnerId: p.uuid().nullable(),
    archivedAt: at().nullable(),
  },
});
export const CouponCode = defineEntity({
  name: "CouponCode",
  tableName: "coupon_code",
  properties: {
    code: p.text().primary(),
    couponId: p.uuid(),
    single: p.boolean(),
  },
});
export const CouponUse = defineEntity({
  name: "CouponUse",
  tableName: "coupon_use",
  properties: {
    orderId: p.uuid().primary(),
    couponId: p.uuid(),
    code: p.text(),
    discountMinor: minor(),
    currency: p.text(),
    at: at(),
  },
});
/** A code that a visitor's link brought along. */
export const VisitorCoupon = defineEntity({
  name: "VisitorCoupon",
  tableName: "visitor_coupon",
  properties: {
    visitorId: p.uuid().primary(),
    launchId: p.uuid().primary(),
    code: p.text(),
    at: at(),
  },
});
export const TaxRate = defineEntity({
  name: "TaxRate",
  tableName: "tax_rate",
  properties: {
    country: p.text().primary(),
    region: p.text().primary().default(""),
    taxClass: p.text().primary(),
    rateBp: p.integer(),
    fromDay: p.date().primary(),
  },
});

export type Product = InferEntity<typeof Product>;
export type AskedPrice = InferEntity<typeof AskedPrice>;
export type Coupon = InferEntity<typeof Coupon>;
export type CouponCode = InferEntity<typeof CouponCode>;
export type CouponUse = InferEntity<typeof CouponUse>;
export type VisitorCoupon = InferEntity<typeof VisitorCoupon>;
export type TaxRate = InferEntity<typeof TaxRate>;

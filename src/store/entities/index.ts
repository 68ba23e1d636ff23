import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import type { Role } from "../../core/access";
import type { LaunchSettings } from "../../core/launch";
import type { Locale } from "../../core/money";
import {
  once,
  type Agreed,
  type RecurringPaymentState,
  type Assumptions,
  type DisputeState,
  type Every,
  type Evidence,
  type RefundItem,
  type RefundState,
  type OfferPath,
  type Prices,
  type PriceTerms,
  type ProductKind,
  type ChargeTime,
} from "../../core/offers";
import type { Look, Media as MediaFacts, PageContent, Purpose } from "../../core/pages";
import type { CreditExplanation } from "../../core/partners";
import type { CompiledPage } from "../../core/pages/compiled";
import type { TaxNumber } from "../../core/settings";

// Amounts are bigint columns read as numbers: minor units stay far below 2^53.
const minor = () => p.bigint("number");
const at = () => p.datetime();

export const DeskUser = defineEntity({
  name: "DeskUser",
  tableName: "desk_user",
  properties: {
    id: p.uuid().primary(),
    email: p.text(),
    name: p.text(),
    passwordHash: p.text(),
    role: p.text().$type<Role>(),
    /** When the membership ended. What they made stays theirs. */
    endedAt: at().nullable(),
  },
});
export const Vendor = defineEntity({
  name: "Vendor",
  tableName: "vendor",
  properties: {
    singleton: p.boolean().primary().default(true),
    version: p.integer().version(),
    name: p.text(),
    postalAddress: p.text().default(""),
    /** ISO 3166-1. */
    country: p.text(),
    taxNumbers: p.json().$type<TaxNumber[]>(),
    senderName: p.text().default(""),
    senderEmail: p.text().default(""),
    locale: p.text().$type<Locale>(),
  },
});
export const Invitation = defineEntity({
  name: "Invitation",
  tableName: "invitation",
  properties: {
    id: p.uuid().primary(),
    email: p.text(),
    role: p.text().$type<Role>(),
    invitedBy: p.uuid(),
    at: at(),
    expiresAt: at(),
    /** When it was accepted, taken back or replaced by another. */
    endedAt: at().nullable(),
  },
});
export const Partner = defineEntity({
  name: "Partner",
  tableName: "partner",
  properties: { id: p.uuid().primary(), email: p.text(), name: p.text(), passwordHash: p.text(), code: p.text(), rateBp: p.integer() },
});
export const Session = defineEntity({
  name: "Session",
  tableName: "session",
  properties: {
    tokenHash: p.text().primary(),
    id: p.uuid(),
    kind: p.text().$type<"desk" | "partner" | "buyer">(),
    subjectId: p.uuid(),
    createdAt: at(),
    expiresAt: at(),
    /** When a request last came with it, to some minutes. */
    seenAt: at(),
    /** The browser and its system, in words. */
    device: p.text().default(""),
  },
});
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
export const Launch = defineEntity({
  name: "Launch",
  tableName: "launch",
  properties: {
    id: p.uuid().primary(),
    slug: p.text(),
    name: p.text(),
    zone: p.text(),
    shape: p.text().$type<import("../../core/launch").LaunchShape>(),
    settings: p.json().$type<LaunchSettings>(),
    /** How its pages look, but those with a look of their own. */
    look: p.json().$type<Look>(),
    /** Counts the versions of the settings, so that two people do not overwrite one another. */
    version: p.integer(),
    /** Signs the notices by which an outside tool starts a person's clock (Standard Webhooks). */
    hookSecret: p.text(),
    mainProductId: p.uuid(),
    creditWindowDays: p.integer(),
    recoveryDelayMinutes: p.integer(),
    createdAt: at(),
    /** When it left the lists. */
    archivedAt: at().nullable(),
    /** What is assumed where nothing was measured. */
    assumptions: p
      .json()
      .$type<Assumptions>()
      .onCreate(() => ({})),
  },
});
export const Page = defineEntity({
  name: "Page",
  tableName: "page",
  properties: {
    id: p.uuid().primary(),
    launchId: p.uuid(),
    kind: p.text().$type<import("../../core/launch").PageKind>(),
    key: p.text(),
    slug: p.text(),
    draft: p.json().$type<PageContent>(),
    published: p.json().$type<PageContent>().nullable(),
    compiled: p.json().$type<CompiledPage>().nullable(),
    publishedAt: at().nullable(),
    version: p.integer(),
    /** Another version of this page, to be tested beside it. */
    variantOf: p.uuid().nullable(),
    /** Its share of the visitors, against those of the page's other versions. */
    weight: p.integer().default(1),
    /** When it left its launch; it is not public then, and keeps its address for the case that it comes back. */
    archivedAt: at().nullable(),
  },
});
/** An address that a page had before: it leads on to where the page is now. */
export const PageAddress = defineEntity({
  name: "PageAddress",
  tableName: "page_address",
  properties: { launchId: p.uuid().primary(), slug: p.text().primary(), pageId: p.uuid(), leftAt: at() },
});
/** A state of a page's draft. Saves of one person within a minute are one version. */
export const PageVersion = defineEntity({
  name: "PageVersion",
  tableName: "page_version",
  properties: {
    id: p.uuid().primary(),
    pageId: p.uuid(),
    version: p.integer(),
    content: p.json().$type<PageContent>(),
    at: at(),
    userId: p.uuid().nullable(),
    /** Whether this state was made public. */
    published: p.boolean(),
  },
});
/** A page that the vendor keeps to start others from. */
export const PageTemplate = defineEntity({
  name: "PageTemplate",
  tableName: "page_template",
  properties: {
    id: p.uuid().primary(),
    name: p.text(),
    kind: p.text().$type<import("../../core/launch").PageKind>(),
    purpose: p.text().$type<Purpose>(),
    content: p.json().$type<PageContent>(),
    createdAt: at(),
    userId: p.uuid().nullable(),
  },
});
/** An uploaded picture, film or file. Its bytes lie in `media_file`, one row for each width and format. */
export const Media = defineEntity({
  name: "Media",
  tableName: "media",
  properties: {
    id: p.uuid().primary(),
    kind: p.text().$type<MediaFacts["kind"]>(),
    name: p.text(),
    hash: p.text(),
    alt: p.text(),
    width: p.integer(),
    height: p.integer(),
    widths: p
      .array((text) => Number(text))
      .columnType("int[]")
      .$type<number[]>(),
    focalX: p.integer(),
    focalY: p.integer(),
    extension: p.text(),
    bytes: p.bigint("number"),
    createdAt: at(),
    createdBy: p.uuid().nullable(),
  },
});
export const LaunchChange = defineEntity({
  name: "LaunchChange",
  tableName: "launch_change",
  properties: {
    id: p.uuid().primary(),
    launchId: p.uuid(),
    userId: p.uuid(),
    at: at(),
    what: p.text(),
    before: p.json().$type<LaunchSettings>(),
    version: p.integer(),
    undone: p.boolean(),
  },
});
export const PathStep = defineEntity({
  name: "PathStep",
  tableName: "path_step",
  properties: { id: p.uuid().primary(), launchId: p.uuid() },
});
/** One state of a launch's offer path. The newest is the one that new buyers walk. */
export const PathVersion = defineEntity({
  name: "PathVersion",
  tableName: "path_version",
  properties: {
    launchId: p.uuid().primary(),
    version: p.integer().primary(),
    path: p.json().$type<OfferPath>(),
    /** What it changed, in words. */
    what: p.text(),
    at: at(),
    userId: p.uuid().nullable(),
  },
});
export const Contact = defineEntity({
  name: "Contact",
  tableName: "contact",
  properties: {
    id: p.uuid().primary(),
    personId: p.uuid(),
    email: p.text(),
    firstName: p.text(),
    country: p.text().nullable(),
    consentText: p.text().nullable(),
    consentAt: at().nullable(),
    unsubscribedAt: at().nullable(),
    createdAt: at(),
    /** Somebody who tries a checkout out; apart from whoever has the same address. */
    test: p.boolean().default(false),
    lastName: p.text().default(""),
    phone: p.text().nullable(),
    /** Answers to the vendor's own questions, by their words. */
    answers: p.json().$type<Record<string, string>>().nullable(),
    /** When somebody proved to read this inbox. */
    provenAt: at().nullable(),
    /** Of a buyer who has set one; the others come to their library by a link in a letter. */
    passwordHash: p.text().nullable(),
  },
});
/** What an opt-in form was sent with; it counts once it is confirmed. */
export const OptIn = defineEntity({
  name: "OptIn",
  tableName: "opt_in",
  properties: {
    id: p.uuid().primary(),
    launchId: p.uuid(),
    contactId: p.uuid(),
    page: p.text(),
    form: p.text(),
    visitorId: p.uuid(),
    country: p.text().nullable(),
    consentText: p.text(),
    askedAt: at(),
    confirmedAt: at().nullable(),
  },
});
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
export const Charge = defineEntity({
  name: "Charge",
  tableName: "charge",
  properties: {
    id: p.uuid().primary(),
    idempotencyKey: p.text(),
    checkoutId: p.uuid(),
    stepId: p.uuid().nullable(),
    state: p.text().$type<import("../../core/offers").ChargeState>(),
    amountMinor: minor(),
    currency: p.text(),
    /** What it is for, line by line; the amount is their sum. */
    items: p.json().$type<import("../../core/offers").ChargeItem[]>(),
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
    role: p.text().$type<import("../../core/offers").LineRole>(),
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
/** What is charged again by itself: instalments of a price, or a subscription. */
export const RecurringPayment = defineEntity({
  name: "RecurringPayment",
  tableName: "recurring_payment",
  properties: {
    id: p.uuid().primary(),
    orderId: p.uuid(),
    lineId: p.uuid(),
    productId: p.uuid(),
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
export const EmailMessage = defineEntity({
  name: "EmailMessage",
  tableName: "email_message",
  properties: {
    id: p.uuid().primary(),
    key: p.text(),
    kind: p.text().$type<"welcome" | "receipt" | "recovery" | "letter" | "confirm" | "library">(),
    launchId: p.uuid(),
    contactId: p.uuid(),
    checkoutId: p.uuid().nullable(),
    dueAt: at(),
    state: p.text().$type<"due" | "sending" | "sent" | "stopped" | "unknown">(),
    stoppedBecause: p.text().nullable(),
    /** Mail to many; kept by the database. */
    bulk: p.boolean().persist(false),
    tries: p.integer().default(0),
    /** Why the last try did not succeed. */
    failedBecause: p.text().nullable(),
    data: p.json().$type<{ orderId?: string; lineId?: string; letter?: string; opens?: string; optInId?: string }>(),
    sentAt: at().nullable(),
  },
});
export const Listing = defineEntity({
  name: "Listing",
  tableName: "listing",
  properties: {
    id: p.uuid().primary(),
    launchId: p.uuid(),
    productId: p.uuid(),
    marketplace: p.text(),
    state: p.text().$type<import("../../core/markets").ListingState>(),
    picture: p.blob().nullable().lazy(),
    pictureWidth: p.integer().nullable(),
    pictureHeight: p.integer().nullable(),
    termsAcceptedAt: at().nullable(),
    testOrderAt: at().nullable(),
    testOrderId: p.text().nullable(),
    orderLink: p.text().nullable(),
    reasons: p.json().$type<string[]>().nullable(),
    externalId: p.text().nullable(),
  },
});

export type DeskUser = InferEntity<typeof DeskUser>;
export type Vendor = InferEntity<typeof Vendor>;
export type Invitation = InferEntity<typeof Invitation>;
export type Partner = InferEntity<typeof Partner>;
export type Product = InferEntity<typeof Product>;
export type Launch = InferEntity<typeof Launch>;
export type LaunchChange = InferEntity<typeof LaunchChange>;
export type Page = InferEntity<typeof Page>;
export type PageVersion = InferEntity<typeof PageVersion>;
export type PageTemplate = InferEntity<typeof PageTemplate>;
export type Media = InferEntity<typeof Media>;
export type PathVersion = InferEntity<typeof PathVersion>;
export type Contact = InferEntity<typeof Contact>;
export type OptIn = InferEntity<typeof OptIn>;
export type Checkout = InferEntity<typeof Checkout>;
export type Charge = InferEntity<typeof Charge>;
export type Order = InferEntity<typeof Order>;
export type OrderLine = InferEntity<typeof OrderLine>;
export type RecurringPayment = InferEntity<typeof RecurringPayment>;
export type Refund = InferEntity<typeof Refund>;
export type Dispute = InferEntity<typeof Dispute>;
export type EmailMessage = InferEntity<typeof EmailMessage>;
export type Listing = InferEntity<typeof Listing>;
export const entities = [
  DeskUser,
  Vendor,
  Invitation,
  Partner,
  Session,
  Product,
  Launch,
  LaunchChange,
  Page,
  PageAddress,
  PageVersion,
  PageTemplate,
  Media,
  PathStep,
  PathVersion,
  Contact,
  OptIn,
  Checkout,
  Charge,
  Order,
  OrderLine,
  RecurringPayment,
  Refund,
  Dispute,
  EmailMessage,
  Listing,
];

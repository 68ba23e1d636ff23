import { LockMode } from "@mikro-orm/core";
import { randomUUID } from "node:crypto";
import { z } from "zod";
import { marketplaceSalePostings } from "../../core/money";
import { webAddress } from "../../core/markets";
import { country, email } from "../../core/people";
import { Listing, Order, OrderLine } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import type { App } from "../platform";
import { loadLaunch } from "../launch";
import { book } from "../money";
import { notifySold } from "../offers";
import { writeEvents } from "../../store/events/writeEvents";
import { contactOf } from "../identity";

const amount = z.number().int().nonnegative();
const reference = z.string().min(1).max(200);
const sale = z.object({
  listing: reference,
  sale: reference,
  net: amount,
  tax: amount,
  fee: amount,
  currency: z.string().length(3),
  rate_bp: amount,
  buyer: z.object({ email, first_name: z.string().min(1).max(60), country }),
});
const notice = z.discriminatedUnion("type", [
  z.object({ type: z.literal("listing.approved"), data: z.object({ listing: reference, order_link: webAddress }) }),
  z.object({ type: z.literal("listing.returned"), data: z.object({ listing: reference, reasons: z.array(z.string().max(1_000)).max(50) }) }),
  z.object({ type: z.literal("test_order.created"), data: z.object({ listing: reference, order: reference }) }),
  z.object({ type: z.literal("sale.created"), data: sale }),
]);

const recordSale = async (app: App, em: EntityManager, listing: Listing, data: z.infer<typeof sale>): Promise<string> => {
  const externalId = data.sale;
  if (await em.findOne(Order, { source: listing.marketplace, externalId })) return "sale known already";
  const now = app.clock.now();
  const context = (await loadLaunch(em, { id: listing.launchId }))!;
  if (data.currency !== context.product.currency) return "currency differs, not applied";
  const visitorId = randomUUID();
  const contact = await contactOf(em, visitorId, { email: data.buyer.email, firstName: data.buyer.first_name, country: data.buyer.country }, now);
  const order = em.create(Order, {
    id: randomUUID(),
    launchId: listing.launchId,
    checkoutId: null,
    contactId: contact.id,
    personId: contact.personId,
    currency: data.currency,
    placedAt: now,
    country: data.buyer.country,
    source: listing.marketplace,
    externalId,
    partnerId: null,
    recovered: false,
    // The marketplace credits its own affiliates and pays them itself.
    credit: { rule: "last_touch", windowDays: context.launch.creditWindowDays, decidedAt: now.toISOString(), touches: [] },
  });
  await em.persist(order).flush();
  const line = em.create(OrderLine, {
    id: randomUUID(),
    orderId: order.id,
    productId: listing.productId,
    role: "front",
    name: context.product.name,
    netMinor: data.net,
    taxMinor: data.tax,
    grossMinor: data.net + data.tax,
    rateBp: data.rate_bp,
    feeMinor: data.fee,
  });
  await em.persist(line).flush();
  await notifySold(em, context);
  await book(
    em,
    "marketplace_sale",
    { orderId: order.id, lineId: line.id },
    marketplaceSalePostings({ net: data.net, fee: data.fee, currency: data.currency }),
    now,
  );
  await writeEvents(em, [
    {
      launchId: listing.launchId,
      visitorId,
      kind: "paid",
      at: now,
      page: listing.marketplace,
      country: data.buyer.country,
      data: { order: order.id, amountMinor: line.grossMinor, currency: data.currency, products: [line.productId] },
    },
  ]);
  return "sale booked";
};

/** Applies a verified notice of the marketplace. Answers what came of it, for the record. */
export const applyMarketNotice = async (app: App, body: unknown): Promise<string> => {
  const read = notice.safeParse(body);
  if (!read.success) return "not understood";
  const { type, data } = read.data;
  return app.fork().transactional(async (em) => {
    const listing = await em.findOne(Listing, { externalId: data.listing, marketplace: app.market.key }, { lockMode: LockMode.PESSIMISTIC_WRITE });
    if (!listing) return "no such listing";
    if (type === "sale.created") return recordSale(app, em, listing, data);
    if (type === "test_order.created") {
      if (!listing.testOrderAt) Object.assign(listing, { testOrderAt: app.clock.now(), testOrderId: data.order });
      return "test order noted";
    }
    if (listing.state !== "submitted") return `listing is ${listing.state}, not changed`;
    if (type === "listing.approved") Object.assign(listing, { state: "live", orderLink: data.order_link, reasons: null });
    else Object.assign(listing, { state: "returned", reasons: data.reasons });
    return type;
  });
};

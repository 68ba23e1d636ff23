import { lockName } from "../../store/platform/locks";
import { type App, Refusal, mustBeAllowed, required, typedAmount, wrongField } from "../platform";
import { randomUUID } from "node:crypto";
import { handPostings } from "../../core/money";
import { taxed, type HandOrder } from "../../core/offers";
import { Contact, Order, OrderLine, Product, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { touchesOfPerson } from "../../store/partners/touchesOfPerson";
import { mergeRows, writeSale } from "../../store/payments/writeSale";
import { queueEmail } from "../../store/emails/queueEmail";
import { loadLaunch } from "../launch";
import { journalRows } from "../money";
import { creditOf, earnerOf } from "../partners";
import { contactOf } from "../identity";
import { mustHaveSeat, notifySold, ratesFor, withSeats } from "../offers";
import { sold } from "../payments";

/**
 * Enters an order that was paid outside the checkout: its seat, its credit, its tax and its books are those of any other,
 * but the money lies in the bank. Pressed twice it is entered once. The amount is what was paid, tax included.
 */
export const enterByHand = async (app: App, em: EntityManager, user: DeskUser, request: HandOrder): Promise<{ id: string }> => {
  mustBeAllowed(user, "order.enter");
  const now = app.clock.now();
  return withSeats(em, async (tx) => {
    await lockName(tx, `order by hand ${request.act}`);
    if (await tx.findOne(Order, { id: request.act })) return { id: request.act };
    const context = required(await loadLaunch(tx, { slug: request.launch }), "launch");
    const product = required(await tx.findOne(Product, { id: request.product }), "product");
    const paid = typedAmount(request.amount, product.currency, app.vendor.locale, (fault) => wrongField("nothing_entered", "amount", fault));
    const contact = await contactOf(tx, randomUUID(), request, now);
    // The rate is that of the country; what was paid holds the tax, however the product is priced.
    const { rateBp } = (await ratesFor(tx, { country: request.country }, now))(paid, "inclusive", product.taxClass);
    const { net, tax, gross } = taxed(paid, "inclusive", rateBp);
    const touches = await touchesOfPerson(tx, context.launch.id, contact.personId, contact.email);
    const credit = creditOf(touches, context.launch, now);
    const id = request.act;
    const role = product.id === context.product.id ? ("front" as const) : ("offer" as const);
    const { quantity } = request;
    await mustHaveSeat(tx, context, [{ productId: product.id, role, gross, tax, rateBp, quantity }], quantity);
    const order = {
      id,
      launch_id: context.launch.id,
      checkout_id: null,
      contact_id: contact.id,
      person_id: contact.personId,
      currency: product.currency,
      placed_at: now,
      country: request.country,
      card_ref: null,
      card_last4: null,
      source: "hand",
      external_id: `${request.how} (${id})`,
      partner_id: credit.partnerId ?? null,
      credit,
      recovered: false,
      vat_number: null,
      reverse_charge: false,
      path_version: 0,
      test: false,
      evidence: [{ kind: "billing" as const, country: request.country }],
      agreed: [],
      region: "",
    };
    const line = { id: randomUUID(), productId: product.id, netMinor: net, role, refundDays: product.refundDays };
    const reaction = sold.reactionTo({
      how: "entered",
      context,
      order: {
        id,
        launchId: context.launch.id,
        contactId: contact.id,
        personId: contact.personId,
        country: request.country,
        placedAt: now,
        currency: product.currency,
        test: false,
      },
      earner: earnerOf(touches, credit),
      lines: [line],
      amountMinor: gross,
      paid: true,
      visitorId: null,
      page: "hand",
      receipt: request.receipt,
      now,
    });
    await writeSale(
      tx,
      mergeRows(
        { sale_order: [order] },
        {
          order_line: [
            {
              id: line.id,
              order_id: id,
              charge_id: null,
              product_id: product.id,
              step_id: null,
              role,
              rate_bp: rateBp,
              fee_minor: 0,
              name: quantity > 1 ? `${quantity} × ${product.name}` : product.name,
              net_minor: net,
              tax_minor: tax,
              gross_minor: gross,
              discount_minor: 0,
              quantity,
            },
          ],
        },
        journalRows("payment", { orderId: id, lineId: line.id }, handPostings({ net, tax, currency: product.currency }), now),
        reaction.rows,
      ),
    );
    await reaction.then?.(tx);
    if (role === "front") await notifySold(tx, context);
    return { id };
  });
};

/** Sends the receipt of an order again, with all its lines. Pressed twice within a minute it goes once. */
export const sendReceiptAgain = async (app: App, em: EntityManager, user: DeskUser, orderId: string): Promise<void> => {
  mustBeAllowed(user, "order.receipt");
  const now = app.clock.now();
  const order = required(await em.findOne(Order, { id: orderId }), "order");
  const lines = await em.count(OrderLine, { orderId });
  if (lines === 0) throw new Refusal({ code: "no_lines" });
  required(await em.findOne(Contact, { id: order.contactId, erasedAt: null }), "person");
  await em.transactional((tx) =>
    queueEmail(tx, {
      key: `receipt:${order.id}:again:${Math.floor(now.getTime() / 60_000)}`,
      kind: "receipt",
      dueAt: now,
      launchId: order.launchId,
      contactId: order.contactId,
      data: { orderId },
    }),
  );
};

import { randomUUID } from "node:crypto";
import { itemOf } from "../../core/offers";
import { Order, Product, Charge } from "../../store/tables";
import type { App } from "../platform";
import { beginCharge, chargeNow } from "./charging";
import { lockedRecurringPayment } from "./recurringPayments";
import { ratesFor } from "../offers";

/** Charges a recurring payment that is due, from the card that its order stored. Taken twice at once, it is one charge. */
export const takeDuePayment = async (app: App, id: string): Promise<void> => {
  const now = app.clock.now();
  const chargeId = await app.fork().transactional(async (tx) => {
    const recurringPayment = await lockedRecurringPayment(tx, id);
    if (recurringPayment.endedAt || recurringPayment.nextAt > now) return undefined;
    const order = await tx.findOneOrFail(Order, { id: recurringPayment.orderId });
    const product = await tx.findOneOrFail(Product, { id: recurringPayment.productId });
    const nth = recurringPayment.paid + 1;
    const live = await tx.findOne(Charge, { recurringPaymentId: id, nth, state: { $ne: "declined" } });
    if (live) return live.id;
    // Taxed as the day of the payment says; the price is the one that was agreed.
    const rates = await ratesFor(tx, { country: order.country, region: order.region, reverse: order.reverseCharge }, now);
    const item = itemOf(product.id, "rebill", rates(recurringPayment.minor, product.taxMode, product.taxClass));
    const charge = randomUUID();
    await beginCharge(
      tx,
      {
        id: charge,
        idempotencyKey: `later:${id}:${nth}:${recurringPayment.tries}`,
        checkoutId: order.checkoutId!,
        recurringPaymentId: id,
        nth,
        amountMinor: item.gross,
        currency: order.currency,
        items: [item],
        card: order.cardRef ?? "gone",
        returnUrl: app.config.origin,
      },
      now,
    );
    return charge;
  });
  if (chargeId) await chargeNow(app, chargeId);
};

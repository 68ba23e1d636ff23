import { EmailMessage } from "../../store/tables";
import { eventRow } from "../../store/events/writeEvents";
import { mergeRows, writeSale } from "../../store/payments/writeSale";
import { loadLaunch, stopClock, stopsAtPurchase } from "../launch";
import { commissionRows } from "../partners";
import { receiptRows, type Sold } from "../payments";
import type { Reaction } from "../platform";

/** A partner earns what the lines of an order are worth to them, once their money is here. */
export const earnCommissions = ({ context, order, earner, lines, paid, now }: Sold): Reaction =>
  paid && !order.test ? { rows: mergeRows(...lines.map((line) => commissionRows(context, earner, order, line, line.refundDays, now))) } : {};

/** How long a receipt waits for the buyer to finish the offers, so that one receipt names them all. */
const receiptWaitMs = 15 * 60_000;

/** The buyer gets a receipt: one for the order with the offers that follow it, and one for each line that comes after that has gone. */
export const sendReceipts = ({ how, order, lines, receipt, now }: Sold): Reaction => {
  if (!receipt || how === "captured") return {};
  if (how === "ordered") return { rows: receiptRows(order, new Date(now.getTime() + receiptWaitMs)) };
  if (how === "entered") return { rows: receiptRows(order, now) };
  const ofLine = receiptRows(order, now, lines[0]!.id);
  if (how === "rebilled") return { rows: ofLine };
  return {
    then: async (tx) => {
      const gone = await tx.count(EmailMessage, { key: `receipt:${order.id}`, state: { $in: ["sent", "sending"] } });
      if (gone > 0) await writeSale(tx, ofLine);
    },
  };
};

/** What people did is logged. Who tries things out did nothing. */
export const logSales = ({ how, order, lines, visitorId, page, stepId, amountMinor, now }: Sold): Reaction => {
  if (order.test || how === "rebilled" || how === "captured") return {};
  const by = { launchId: order.launchId, personId: order.personId, visitorId, at: now, page, country: order.country };
  const data = { order: order.id, amountMinor, currency: order.currency, products: [...new Set(lines.map(({ productId }) => productId))] };
  const event =
    how === "offer_accepted" ? eventRow(by, { kind: "offer_accepted", data: { ...data, step: stepId! } }) : eventRow(by, { kind: "paid", data });
  return { rows: { event: [event] } };
};

/** A code that took something off is used. */
export const useCoupons = ({ order, coupon, now }: Sold): Reaction =>
  coupon && !order.test
    ? { rows: { coupon_use: [{ order_id: order.id, code: coupon.code, discount_minor: coupon.discountMinor, currency: order.currency, at: now }] } }
    : {};

/** A person's clock stops where the launch says that this purchase stops it, and another may take over. */
export const stopClocks = ({ how, context, order, lines, now }: Sold): Reaction => {
  const stop = lines.map(({ productId }) => stopsAtPurchase(context.launch.settings, productId)).find(Boolean);
  if (!stop || order.test || (how !== "ordered" && how !== "offer_accepted")) return {};
  return { then: (tx) => stopClock(tx, (id) => loadLaunch(tx, { id }), context.launch.id, order.personId, "purchase", stop.handTo, now) };
};

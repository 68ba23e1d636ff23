import { RecurringPayment } from "../../store/tables";
import { eventRow } from "../../store/events/writeEvents";
import { freeSeats } from "../../store/launch/soldCounts";
import { restoreCommissions, reverseCommissions } from "../partners";
import { type DisputeWon, endRecurringPayment, type Refunded } from "../payments";
import type { Reaction } from "../platform";

/** Partners give back what they earned, in proportion. */
export const takeCommissionsBack = ({ id, order, items, lines, currency, now }: Refunded): Reaction => {
  if (order.test) return {};
  const returned = lines.filter((line) => items.some(({ lineId }) => lineId === line.id));
  return { then: (tx) => reverseCommissions(tx, { orderId: order.id, aboutId: id }, returned, currency, now) };
};

/** What the desk gave back is logged. What a bank takes is not the buyer's doing alone. */
export const logRefunds = ({ by, order, amountMinor, currency, now }: Refunded): Reaction => {
  if (by !== "refund" || order.test) return {};
  const who = { launchId: order.launchId, personId: order.personId, visitorId: null, at: now, page: "desk", country: order.country };
  return { rows: { event: [eventRow(who, { kind: "refunded", data: { order: order.id, amountMinor, currency } })] } };
};

/** Who has all of a line back pays nothing more for it, and their seat is free again. */
export const endWhatWasBought = ({ by, order, items, lines, now }: Refunded): Reaction => {
  const whole = lines.filter((line) => line.gross === line.refunded.gross && items.some(({ lineId }) => lineId === line.id));
  if (by !== "refund" || whole.length === 0) return {};
  return {
    then: async (tx) => {
      for (const { id: lineId, role, quantity } of whole) {
        if (role === "front" && !order.test) await freeSeats(tx, order.launchId, quantity);
        const open = await tx.findOne(RecurringPayment, { lineId, endedAt: null });
        if (open) await endRecurringPayment(tx, open.id, "refunded", now);
      }
    },
  };
};

/** Partners get back what a dispute had taken from them. */
export const giveCommissionsBack = (won: DisputeWon): Reaction => ({ then: (tx) => restoreCommissions(tx, won) });

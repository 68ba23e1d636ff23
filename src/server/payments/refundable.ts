import type { RefundableLine, RefundItem } from "../../core/offers";
import { Dispute, OrderLine, Refund } from "../../store/tables";
import type { EntityManager } from "../../store/orm";

export type Refundable = RefundableLine & Pick<OrderLine, "role" | "quantity"> & { chargeId: string | null; net: number };

/** The lines of an order with what went back of each so far: asked for or done, or done alone. */
export const refundableLines = async (em: EntityManager, orderId: string, done = false): Promise<Refundable[]> => {
  // One after the other: in a transaction all of them go over one connection.
  const lines = await em.find(OrderLine, { orderId });
  const refunds = await em.find(Refund, { orderId, state: done ? "succeeded" : { $ne: "failed" } });
  const disputes = await em.find(Dispute, { orderId, state: { $ne: "won" } });
  return lines.map(({ id, chargeId, role, quantity, grossMinor: gross, taxMinor: tax, netMinor: net }) => {
    // What the bank took back is not there to be given back.
    const back = [...refunds, ...disputes].flatMap(({ items }) => items.filter(({ lineId }) => lineId === id));
    const refunded = { gross: back.reduce((sum, item) => sum + item.gross, 0), tax: back.reduce((sum, item) => sum + item.tax, 0) };
    return { id, chargeId: chargeId ?? null, role, quantity, gross, tax, net, refunded };
  });
};

/** What is left of the lines of a charge that was not given back yet. */
export const leftOf = (lines: Refundable[], chargeId: string): RefundItem[] =>
  lines
    .filter((line) => line.chargeId === chargeId && line.gross > line.refunded.gross)
    .map(({ id, gross, tax, refunded }) => ({ lineId: id, gross: gross - refunded.gross, tax: tax - refunded.tax }));

import { fault } from "../core/words";
import { z } from "zod";
import { handOrder } from "../core/offers";
import { post } from "./endpoint";

export const refundOrder = post("orders/[id]/refund", {
  refusals: ["paid_by_hand", "sold_elsewhere", "no_payment", "only_authorized"],
  permission: "order.refund",
  request: z.object({
    /** Made by the form: a second press of the same form is the same refund. */
    act: z.uuid(),
    /** By line, as typed. */
    lines: z.record(z.uuid(), z.string()).default({}),
    amount: z.string().default(""),
    reason: z.string().trim().min(1, fault("reason_missing")).max(300),
  }),
  answer: z.object({ refunds: z.array(z.object({ state: z.string(), minor: z.number() })) }),
});
export const sendReceiptAgain = post("orders/[id]/receipt", { refusals: ["no_lines"], permission: "order.receipt" });
/** Captures what is authorized for goods that were sent; how many of the payments went through. */
export const captureAndFulfil = post("orders/[id]/send", {
  refusals: ["nothing_authorized", "being_voided"],
  permission: "order.capture",
  answer: z.object({ taken: z.number(), of: z.number() }),
});
export const enterOrder = post("orders/enter", {
  refusals: ["seats_taken", "not_on_sale", "limit_reached", "sold_out"],
  permission: "order.enter",
  request: handOrder,
  answer: z.object({ id: z.string() }),
});
export const endRecurringPayment = post("recurring-payments/[id]/end", { permission: "recurring.end" });

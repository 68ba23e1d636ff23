import { z } from "zod";
import { handOrder } from "../core/offers";
import { post } from "./endpoint";

export const refundOrder = post("orders/[id]/refund", {
  permission: "order.refund",
  request: z.object({
    /** Made by the form: a second press of the same form is the same refund. */
    act: z.uuid(),
    /** By line, as typed. */
    lines: z.record(z.uuid(), z.string()).default({}),
    amount: z.string().default(""),
    reason: z.string().trim().min(1, "Say why; only the desk reads this.").max(300, "300 characters at most."),
  }),
  answer: z.object({ refunds: z.array(z.object({ state: z.string(), minor: z.number() })) }),
});
export const sendReceiptAgain = post("orders/[id]/receipt", { permission: "order.receipt" });
/** Captures what is authorized for goods that were sent; how many of the payments went through. */
export const captureAndFulfil = post("orders/[id]/send", { permission: "order.capture", answer: z.object({ taken: z.number(), of: z.number() }) });
export const enterOrder = post("orders/enter", { permission: "order.enter", request: handOrder, answer: z.object({ id: z.string() }) });
export const endRecurringPayment = post("recurring-payments/[id]/end", { permission: "recurring.end" });

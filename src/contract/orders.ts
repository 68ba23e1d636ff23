import { reason } from "../core/words";
import { z } from "zod";
import { handOrder } from "../core/offers";
import { orderSorts, orderStates, type OrderRow } from "../core/money";
import { get, post } from "./endpoint";

/** What a list of orders is narrowed to and sorted by; as it stands in the address of the screen too. */
export const ordersAsked = z.object({
  launch: z.string().max(120).default(""),
  search: z.string().max(120).default(""),
  state: z.enum(["", ...orderStates]).default(""),
  source: z.string().max(40).default(""),
  from: z.union([z.literal(""), z.iso.date()]).default(""),
  until: z.union([z.literal(""), z.iso.date()]).default(""),
  /** A column; with a minus the largest, or the last, first. */
  sort: z.enum(orderSorts.flatMap((by) => [by, `-${by}` as const])).default("-placed"),
});
export type OrdersAsked = z.output<typeof ordersAsked>;

const orderRow = z.object({
  id: z.uuid(),
  number: z.number(),
  placedAt: z.coerce.date(),
  zone: z.string(),
  buyer: z.string(),
  email: z.string(),
  country: z.string(),
  lines: z.string(),
  grossMinor: z.number(),
  refundedMinor: z.number(),
  authorizedMinor: z.number(),
  dispute: z.string().nullable(),
  currency: z.string(),
  partner: z.string().nullable(),
  source: z.string(),
  recovered: z.boolean(),
  test: z.boolean(),
}) satisfies z.ZodType<OrderRow>;

export const listOrders = get("orders", {
  request: ordersAsked.extend({ after: z.string().max(400).optional() }),
  answer: z.object({
    orders: z.array(orderRow),
    all: z.number(),
    /** Asks for what comes behind these; absent after the last. */
    next: z.string().optional(),
  }),
});
export const refundOrder = post("orders/[id]/refund", {
  refusals: ["paid_by_hand", "sold_elsewhere", "no_payment", "only_authorized"],
  permission: "order.refund",
  request: z.object({
    /** Made by the form: a second press of the same form is the same refund. */
    act: z.uuid(),
    /** By line, as typed. */
    lines: z.record(z.uuid(), z.string()).default({}),
    amount: z.string().default(""),
    reason,
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

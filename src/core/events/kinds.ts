import { z } from "zod";
import type { Stage } from "./stages";
import { devices, visitSource } from "./visit";

const pageView = z.object({
  /** Which variant of the page it was, A to D. */
  variant: z.string().regex(/^[A-D]$/),
  device: z.enum(devices).optional(),
  ...visitSource.shape,
});

/** In minor units of its currency (ISO 4217). */
const minor = z.number().int().nonnegative();
const currency = z.string().length(3);

/** What is kept with an event beside who, when and where, by its kind. Keys are stored: they are added to, never renamed. */
export const eventData = {
  visited: pageView,
  saw_sales: pageView,
  opted_in: z.object({ form: z.string().max(60) }),
  /** Sent a form whose address counts only once it is confirmed. */
  opt_in_asked: z.object({ form: z.string().max(60) }),
  /** Confirmed an address; `askedBy` is the visitor who sent the form. */
  confirmed: z.object({ form: z.string().max(60), askedBy: z.uuid() }),
  began_checkout: z.object({ checkout: z.uuid(), product: z.uuid() }),
  paid: z.object({
    order: z.uuid(),
    /** All that was paid or authorized at once, tax included. */
    amountMinor: minor,
    currency,
    products: z.array(z.uuid()).min(1),
  }),
  /** A quarter of a film was watched; each once. */
  watched: z.object({ film: z.string().max(60), quarters: z.number().int().min(1).max(4) }),
  /** Typed a code, or came with one in the address: whether it was taken. */
  coupon_tried: z.object({ code: z.string().max(80), taken: z.boolean() }),
  /** The card was refused, or the bank's question was not answered. */
  payment_refused: z.object({ checkout: z.uuid(), amountMinor: minor, currency, code: z.string().max(80).optional() }),
  /** An offer was shown to the buyer of an order. */
  offered: z.object({ order: z.uuid(), step: z.uuid(), product: z.uuid() }),
  offer_accepted: z.object({ order: z.uuid(), step: z.uuid(), amountMinor: minor, currency, products: z.array(z.uuid()).min(1) }),
  offer_declined: z.object({ order: z.uuid(), step: z.uuid(), product: z.uuid() }),
  /** Money went back to the buyer. */
  refunded: z.object({ order: z.uuid(), amountMinor: minor, currency }),
  commented: z.object({}),
  /** Asked to become a partner. */
  applied: z.object({}),
} satisfies Record<Stage, z.ZodType> & Record<string, z.ZodType>;

export type EventKind = keyof typeof eventData;
/** The kind of an event with the data that belong to it. */
export type EventFact = { [K in EventKind]: { kind: K; data: z.infer<(typeof eventData)[K]> } }[EventKind];

/** The data of one kind of event. */
export type EventDataOf<K extends EventKind> = z.infer<(typeof eventData)[K]>;

/** Reads what a stored event is. Undefined where its kind is not known here, or its data do not fit: those of an older program may not. */
export const readEvent = (kind: string, data: unknown): EventFact | undefined => {
  if (!Object.hasOwn(eventData, kind)) return undefined;
  const read = eventData[kind as EventKind].safeParse(data);
  return read.success ? ({ kind, data: read.data } as EventFact) : undefined;
};

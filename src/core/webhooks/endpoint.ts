import { z } from "zod";
import { fault } from "../words";

/** What other tools can be told of, each with when it happens, in words. */
export const webhookEvents = {
  "person.opted_in": "somebody opts in",
  "person.confirmed": "somebody confirms their address",
  "person.tagged": "somebody gets a tag",
  "order.paid": "an order is paid",
  "order.extended": "a buyer accepts an offer after the order",
  "order.refunded": "money goes back to a buyer",
  "clock.started": "somebody’s own clock starts",
  "clock.stopped": "somebody’s own clock is stopped early",
  "clock.ended": "somebody’s own clock runs out",
} as const;
export type WebhookEvent = keyof typeof webhookEvents;
export const webhookEventNames = Object.keys(webhookEvents) as [WebhookEvent, ...WebhookEvent[]];

/** Where messages go: an address of the web, without a name and password in it; to another machine only encrypted. */
export const webhookAddress = z
  .string()
  .trim()
  .pipe(z.url({ protocol: /^https?$/, message: fault("not_an_address") }).max(500))
  .refine((text) => {
    const { username, password } = URL.canParse(text) ? new URL(text) : { username: "", password: "" };
    return username === "" && password === "";
  }, fault("address_with_password"));

/** An endpoint as it is asked for. */
export const webhookRequest = z.object({
  url: webhookAddress,
  events: z.array(z.enum(webhookEventNames)).min(1, fault("no_event_chosen")),
  /** The launch whose events go there; null for those of all. */
  launch: z.uuid().nullable(),
});
export type WebhookRequest = z.infer<typeof webhookRequest>;

/** Why nothing goes to an endpoint: its owner switched it off, the receiver asked for no more (410), or it took nothing for days. */
export const offReasons = ["switched_off", "gone", "failing"] as const;
export type OffReason = (typeof offReasons)[number];

export const messageStates = ["due", "delivered", "failed"] as const;
export type MessageState = (typeof messageStates)[number];

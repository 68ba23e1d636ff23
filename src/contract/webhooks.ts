import { z } from "zod";
import { messageStates, offReasons, webhookEventNames, webhookRequest } from "../core/webhooks";
import { get, post } from "./endpoint";

const endpoint = z.object({
  id: z.string(),
  url: z.string(),
  events: z.array(z.enum(webhookEventNames)),
  launch: z.object({ id: z.string(), name: z.string() }).nullable(),
  offBecause: z.enum(offReasons).nullable(),
  createdAt: z.coerce.date(),
  /** Until when the secret before the newest one signs as well. */
  previousUntil: z.coerce.date().nullable(),
  /** Messages that wait, those of them that were tried in vain, that arrived, and that failed for good. */
  due: z.number(),
  late: z.number(),
  delivered: z.number(),
  failed: z.number(),
  arrivedAt: z.coerce.date().nullable(),
});
/** Where another tool is told of what happens, and how that goes. */
export type WebhookRow = z.output<typeof endpoint>;

export const listWebhooks = get("webhooks", { permission: "webhook.edit", answer: z.object({ endpoints: z.array(endpoint) }) });
/** Adds an endpoint: it is told what happens from then on. */
export const addWebhook = post("webhooks", { permission: "webhook.edit", request: webhookRequest, answer: z.object({ id: z.string() }) });
export const changeWebhook = post("webhooks/[id]", {
  permission: "webhook.edit",
  request: z.discriminatedUnion("do", [
    webhookRequest.extend({ do: z.literal("change") }),
    /** `on` tells what happens from then on; what waited goes out. */
    z.object({ do: z.enum(["on", "off", "remove", "test", "send_failed"]) }),
  ]),
  /** How many messages are sent by it. */
  answer: z.object({ sent: z.number() }),
});
/** The secret that signs an endpoint's messages; made anew where asked, while the one before signs beside it for a day. */
export const webhookSecret = post("webhooks/[id]/secret", {
  permission: "webhook.edit",
  request: z.object({ renew: z.boolean() }),
  answer: z.object({ secret: z.string() }),
});

const message = z.object({
  id: z.string(),
  /** As the receiver knows it. */
  messageId: z.string(),
  type: z.string(),
  happenedAt: z.coerce.date(),
  state: z.enum(messageStates),
  dueAt: z.coerce.date(),
  tries: z.number(),
  triedAt: z.coerce.date().nullable(),
  status: z.number().nullable(),
  says: z.string().nullable(),
  body: z.string(),
});
export type WebhookMessageRow = z.output<typeof message>;
/** What an endpoint was told, the newest first, with how many there are. */
export const listWebhookMessages = get("webhooks/[id]/messages", {
  permission: "webhook.edit",
  request: z.object({ state: z.enum(messageStates).optional(), most: z.coerce.number().int().min(1).max(2_000).default(50) }),
  answer: z.object({ messages: z.array(message), all: z.number() }),
});
/** Sends a message again, under its id. */
export const resendWebhookMessage = post("webhooks/messages/[id]", { permission: "webhook.edit" });

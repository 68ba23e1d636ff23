import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import type { MessageState, OffReason, WebhookEvent } from "../../core/webhooks";
import { at } from "../columns";

/** Where another tool is told of what happens. */
export const WebhookEndpoint = defineEntity({
  name: "WebhookEndpoint",
  tableName: "webhook_endpoint",
  properties: {
    id: p.uuid().primary(),
    url: p.text(),
    events: p.json().$type<WebhookEvent[]>(),
    /** Whose events go there; empty for those of all launches. */
    launchId: p.uuid().nullable(),
    /** Signs its messages; beside it, for a day, the one before. */
    secret: p.text(),
    previousSecret: p.text().nullable(),
    previousUntil: at().nullable(),
    /** Why nothing goes there; empty while something does. */
    offBecause: p.text().$type<OffReason>().nullable(),
    createdAt: at(),
    /** What happened before is not told. */
    since: at(),
    /** Up to when it was looked what happened. */
    lookedAt: at(),
  },
});
/** What an endpoint is told, and how that goes. */
export const WebhookMessage = defineEntity({
  name: "WebhookMessage",
  tableName: "webhook_message",
  properties: {
    id: p.uuid().primary(),
    endpointId: p.uuid(),
    /** What it tells of: the same is told once. */
    key: p.text(),
    type: p.text().$type<WebhookEvent | "webhook.test">(),
    personId: p.uuid().nullable(),
    body: p.text(),
    happenedAt: at(),
    state: p.text().$type<MessageState>(),
    /** When it is tried next; while it is being tried, when another worker may take it up. */
    dueAt: at(),
    tries: p.integer().default(0),
    triedAt: at().nullable(),
    /** What was answered last: a status of HTTP, or why there was none. */
    status: p.integer().nullable(),
    says: p.text().nullable(),
  },
});

export type WebhookEndpoint = InferEntity<typeof WebhookEndpoint>;
export type WebhookMessage = InferEntity<typeof WebhookMessage>;

import type { WebhookMessageRow } from "../../contract/webhooks";
import { messageId, type MessageState } from "../../core/webhooks";
import { sendAgain } from "../../store/webhooks/messages";
import { WebhookEndpoint, WebhookMessage, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, required } from "../platform";

/** What an endpoint was told, the newest first. */
export const listMessages = async (
  em: EntityManager,
  user: DeskUser,
  endpointId: string,
  { state, most }: { state?: MessageState | undefined; most: number },
): Promise<{ messages: WebhookMessageRow[]; all: number }> => {
  mustBeAllowed(user, "webhook.edit");
  required(await em.findOne(WebhookEndpoint, { id: endpointId }), "webhook");
  const where = state ? { endpointId, state } : { endpointId };
  const [found, all] = await em.findAndCount(WebhookMessage, where, {
    orderBy: { happenedAt: -1, id: -1 },
    limit: most,
  });
  const messages = found.map(({ id, type, happenedAt, state, dueAt, tries, triedAt, status, says, body }) => ({
    id,
    messageId: messageId(id),
    type,
    happenedAt,
    state,
    dueAt,
    tries,
    triedAt: triedAt ?? null,
    status: status ?? null,
    says: says ?? null,
    body,
  }));
  return { messages, all };
};

/** Sends a message again, under its id: whoever had it knows it. */
export const resendMessage = async (em: EntityManager, user: DeskUser, id: string, now: Date): Promise<void> => {
  mustBeAllowed(user, "webhook.edit");
  required(await em.findOne(WebhookMessage, { id }), "webhook_message");
  await sendAgain(em, { message: id }, now);
};

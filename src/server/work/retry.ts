import type { RetryRequest } from "../../core/work";
import { type DeskUser, EmailMessage, OutboxWork } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, required } from "../platform";

/** Has work that waits done at once, instead of when its turn comes. Emails whose fate is unknown are sent again only by this word. */
export const retryNow = async (em: EntityManager, user: DeskUser, request: RetryRequest, now: Date): Promise<{ n: number }> => {
  mustBeAllowed(user, "work.retry");
  if (request.what === "work") {
    required(await em.findOne(OutboxWork, { id: Number(request.id) }), "work");
    await em.nativeUpdate(OutboxWork, { id: Number(request.id), dueAt: { $gt: now } }, { dueAt: now });
    return { n: 1 };
  }
  const n =
    request.what === "emails"
      ? await em.nativeUpdate(EmailMessage, { state: "due", tries: { $gt: 0 }, dueAt: { $gt: now } }, { dueAt: now })
      : await em.nativeUpdate(EmailMessage, { state: "unknown", kind: request.kind }, { state: "due", dueAt: now, failedBecause: null });
  return { n };
};

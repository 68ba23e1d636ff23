import type { RetryRequest } from "../../core/work";
import type { DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, required } from "../platform";

/** Has work that waits done at once, instead of when its turn comes. Emails whose fate is unknown are sent again only by this word. */
export const retryNow = async (em: EntityManager, user: DeskUser, request: RetryRequest, now: Date): Promise<{ n: number }> => {
  mustBeAllowed(user, "work.retry");
  if (request.what === "work") {
    const rows = await em.execute<object[]>("update outbox set due_at = least(due_at, ?) where id = ? returning 1", [now, request.id]);
    required(rows[0], "work any more: it may be done already");
    return { n: rows.length };
  }
  if (request.what === "emails") {
    const rows = await em.execute<object[]>("update email_message set due_at = ? where state = 'due' and tries > 0 and due_at > ? returning 1", [
      now,
      now,
    ]);
    return { n: rows.length };
  }
  const rows = await em.execute<object[]>(
    "update email_message set state = 'due', due_at = ?, failed_because = null where state = 'unknown' and kind = ? returning 1",
    [now, request.kind],
  );
  return { n: rows.length };
};

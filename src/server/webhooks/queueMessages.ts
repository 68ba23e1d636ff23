import { randomUUID } from "node:crypto";
import { messageBody } from "../../core/webhooks";
import { untold } from "../../store/webhooks/happened";
import { addMessages, lockEndpoint, noteLooked } from "../../store/webhooks/messages";
import { WebhookEndpoint } from "../../store/tables";
import { type App } from "../platform";

/** A transaction that began earlier may become visible so much later: whoever looks goes back by it, and tells nothing twice. */
const overlapMs = 15 * 60_000;
const most = 500;

/**
 * Looks what has happened since each endpoint was told last, and keeps a message of each thing that it asks for. What happened is read from where it is
 * kept for good: nothing that a crash could lose. Answers whether there may be more.
 */
export const queueMessages = async (app: App): Promise<boolean> => {
  const em = app.fork();
  let more = false;
  for (const endpoint of await em.find(WebhookEndpoint, { offBecause: null })) {
    const { id, events, launchId, since, lookedAt } = endpoint;
    const now = app.clock.now();
    const knownSince = new Date(lookedAt.getTime() - overlapMs);
    await app.fork().transactional(async (tx) => {
      if (!(await lockEndpoint(tx, id))) return;
      const found = await untold(tx, { endpointId: id, events, launchId: launchId ?? null, since, knownSince }, now, most);
      await addMessages(
        tx,
        found.map((one) => ({
          id: randomUUID(),
          endpointId: id,
          key: one.key,
          type: one.type,
          personId: one.person.id,
          body: messageBody(one),
          happenedAt: one.at,
        })),
        now,
      );
      // What is left over is found from where this look began.
      if (found.length === most) more = true;
      else await noteLooked(tx, id, now);
    });
  }
  return more;
};

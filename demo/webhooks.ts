import type { EntityManager } from "../src/store/orm";
import { WebhookEndpoint } from "../src/store/tables";

/** Tells the stand-in of another tool what happens in the launches, from half a day ago on. */
export const seedWebhook = async (em: EntityManager, { url, secret }: { url: string; secret: string }, now: Date): Promise<void> => {
  const since = new Date(now.getTime() - 12 * 3_600_000);
  await em.insert(WebhookEndpoint, {
    id: "5eedb0a7-0c1d-4f6e-9a1e-1f5a6c0de001",
    url,
    events: ["person.opted_in", "order.paid", "order.extended", "order.refunded"],
    launchId: null,
    secret,
    createdAt: since,
    since,
    lookedAt: since,
  });
};

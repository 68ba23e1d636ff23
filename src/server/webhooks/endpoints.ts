import { randomUUID } from "node:crypto";
import type { WebhookRow } from "../../contract/webhooks";
import { oldSecretMs, type WebhookRequest } from "../../core/webhooks";
import { addMessages, messageCounts, sendAgain } from "../../store/webhooks/messages";
import { Launch, WebhookEndpoint, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { newHookSecret } from "../launch";
import { mustBeAllowed, required } from "../platform";

/** The endpoints in the order in which they were added, each with how its messages stand. */
export const listEndpoints = async (em: EntityManager, user: DeskUser): Promise<{ endpoints: WebhookRow[] }> => {
  mustBeAllowed(user, "webhook.edit");
  const launches = new Map((await em.find(Launch, {}, { fields: ["id", "name"] })).map(({ id, name }) => [id, { id, name }]));
  const counts = new Map((await messageCounts(em)).map((one) => [one.endpointId, one]));
  const none = { due: 0, late: 0, delivered: 0, failed: 0, arrivedAt: null };
  const found = await em.find(WebhookEndpoint, {}, { orderBy: { createdAt: 1, id: 1 } });
  return {
    endpoints: found.map(({ id, url, events, launchId, offBecause, createdAt, previousUntil }) => ({
      id,
      url,
      events,
      launch: launchId ? (launches.get(launchId) ?? null) : null,
      offBecause: offBecause ?? null,
      createdAt,
      previousUntil: previousUntil ?? null,
      ...(counts.get(id) ?? none),
    })),
  };
};

/** Adds an endpoint: it is told what happens from now on. */
export const addEndpoint = async (em: EntityManager, user: DeskUser, { url, events, launch }: WebhookRequest, now: Date): Promise<string> => {
  mustBeAllowed(user, "webhook.edit");
  if (launch) required(await em.findOne(Launch, { id: launch }), "launch");
  const id = randomUUID();
  await em.insert(WebhookEndpoint, { id, url, events, launchId: launch, secret: newHookSecret(), createdAt: now, since: now, lookedAt: now });
  return id;
};

type Change = ({ do: "change" } & WebhookRequest) | { do: "on" | "off" | "remove" | "test" | "send_failed" };

/** Changes an endpoint, or does something with it. Answers how many messages are sent by it. */
export const changeEndpoint = async (em: EntityManager, user: DeskUser, id: string, change: Change, now: Date): Promise<number> => {
  mustBeAllowed(user, "webhook.edit");
  return em.transactional(async (tx) => {
    const endpoint = required(await tx.findOne(WebhookEndpoint, { id }), "webhook");
    switch (change.do) {
      case "change":
        if (change.launch) required(await tx.findOne(Launch, { id: change.launch }), "launch");
        // Of what it did not ask for so far it is told from now on, as a new one is.
        if (change.events.some((one) => !endpoint.events.includes(one)) || endpoint.launchId !== change.launch) endpoint.since = now;
        Object.assign(endpoint, { url: change.url, events: change.events, launchId: change.launch });
        return 0;
      case "off":
        endpoint.offBecause = "switched_off";
        return 0;
      case "on":
        Object.assign(endpoint, { offBecause: null, since: now, lookedAt: now });
        return 0;
      case "remove":
        tx.remove(endpoint);
        return 0;
      case "test": {
        const body = JSON.stringify({ type: "webhook.test", timestamp: now.toISOString(), data: {} });
        const key = randomUUID();
        await addMessages(tx, [{ id: key, endpointId: id, key, type: "webhook.test", personId: null, body, happenedAt: now }], now);
        return 1;
      }
      case "send_failed":
        return sendAgain(tx, { failedOf: id }, now);
    }
  });
};

/** The secret of an endpoint, for who may change it; made anew where asked, while the one before signs beside it for a day. */
export const endpointSecret = async (em: EntityManager, user: DeskUser, id: string, renew: boolean, now: Date): Promise<string> => {
  mustBeAllowed(user, "webhook.edit");
  const endpoint = required(await em.findOne(WebhookEndpoint, { id }), "webhook");
  if (!renew) return endpoint.secret;
  Object.assign(endpoint, { secret: newHookSecret(), previousSecret: endpoint.secret, previousUntil: new Date(now.getTime() + oldSecretMs) });
  await em.flush();
  return endpoint.secret;
};

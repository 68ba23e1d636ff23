import * as contract from "../../contract/webhooks";
import { answering, type Answering } from "../platform";
import { addEndpoint, changeEndpoint, endpointSecret, listEndpoints, listMessages, resendMessage } from "../webhooks";

export const webhookAnswers: Answering[] = [
  answering(contract.listWebhooks, ({ em, user }) => listEndpoints(em, user)),
  answering(contract.addWebhook, async ({ em, user, body, now }) => ({ id: await addEndpoint(em, user, body, now) })),
  answering(contract.changeWebhook, async ({ em, user, params, body, now }) => ({ sent: await changeEndpoint(em, user, params.id, body, now) })),
  answering(contract.webhookSecret, async ({ em, user, params, body, now }) => ({
    secret: await endpointSecret(em, user, params.id, body.renew, now),
  })),
  answering(contract.listWebhookMessages, ({ em, user, params, body }) => listMessages(em, user, params.id, body)),
  answering(contract.resendWebhookMessage, ({ em, user, params, now }) => resendMessage(em, user, params.id, now)),
];

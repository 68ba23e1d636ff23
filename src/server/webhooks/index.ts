/** Other tools are told of what happens: endpoints, messages, and how they are sent. */

export { addEndpoint, changeEndpoint, endpointSecret, listEndpoints } from "./endpoints";
export { listMessages, resendMessage } from "./messages";
export { queueMessages } from "./queueMessages";
export { WebhookSender } from "./webhookSender";

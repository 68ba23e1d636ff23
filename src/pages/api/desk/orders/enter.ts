import type { APIRoute } from "astro";
import { handOrder } from "../../../../core/offers";
import { deskEndpoint } from "../../../../server/platform/http/endpoint";
import { enterByHand } from "../../../../server/checkout/handOrders";

export const POST: APIRoute = deskEndpoint(handOrder, ({ app, em, user, body }) => enterByHand(app, em, user, body));

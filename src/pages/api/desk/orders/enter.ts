import type { APIRoute } from "astro";
import { handOrder } from "../../../../core/offers";
import { deskEndpoint } from "../../../../server/app/endpoint";
import { enterByHand } from "../../../../server/offers/handOrders";

export const POST: APIRoute = deskEndpoint(handOrder, ({ app, em, user, body }) => enterByHand(app, em, user, body));

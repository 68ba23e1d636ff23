import type { APIRoute } from "astro";
import { handOrder } from "../../../../core/offers";
import { deskEndpoint } from "../../../../server/platform";
import { enterByHand } from "../../../../server/checkout";

export const POST: APIRoute = deskEndpoint(handOrder, ({ app, em, user, body }) => enterByHand(app, em, user, body));

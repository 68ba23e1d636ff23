import type { APIRoute } from "astro";
import { retryRequest } from "../../../../core/work";
import { deskEndpoint } from "../../../../server/platform";
import { retryNow } from "../../../../server/work";

export const POST: APIRoute = deskEndpoint(retryRequest, ({ em, user, body, now }) => retryNow(em, user, body, now));

import type { APIRoute } from "astro";
import { retryRequest } from "../../../../core/work";
import { deskEndpoint } from "../../../../server/platform/http/endpoint";
import { retryNow } from "../../../../server/work/retry";

export const POST: APIRoute = deskEndpoint(retryRequest, ({ em, user, body, now }) => retryNow(em, user, body, now));

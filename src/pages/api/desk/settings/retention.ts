import type { APIRoute } from "astro";
import { retentionRequest } from "../../../../core/settings";
import { deskEndpoint } from "../../../../server/platform";
import { changeRetention } from "../../../../server/settings";

export const POST: APIRoute = deskEndpoint(retentionRequest, ({ em, user, body }) => changeRetention(em, user, body));

import type { APIRoute } from "astro";
import { retentionRequest } from "../../../../core/settings";
import { deskEndpoint } from "../../../../server/platform/http/endpoint";
import { changeRetention } from "../../../../server/settings/retention";

export const POST: APIRoute = deskEndpoint(retentionRequest, ({ em, user, body }) => changeRetention(em, user, body));

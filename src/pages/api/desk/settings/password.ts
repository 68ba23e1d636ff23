import type { APIRoute } from "astro";
import { ownPasswordRequest } from "../../../../core/settings";
import { deskEndpoint } from "../../../../server/platform/http/endpoint";
import { keepSession } from "../../../../server/platform/access/sessionCookie";
import { changeOwnPassword } from "../../../../server/settings/passwords";

export const POST: APIRoute = (visit) =>
  deskEndpoint(ownPasswordRequest, async ({ app, em, user, body }) => {
    keepSession(visit, "desk", await changeOwnPassword(app, em, user, body, visit.request.headers.get("user-agent") ?? ""));
  })(visit);

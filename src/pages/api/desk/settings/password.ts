import type { APIRoute } from "astro";
import { ownPasswordRequest } from "../../../../core/settings";
import { deskEndpoint, keepSession } from "../../../../server/platform";
import { changeOwnPassword } from "../../../../server/settings";

export const POST: APIRoute = (visit) =>
  deskEndpoint(ownPasswordRequest, async ({ app, em, user, body }) => {
    keepSession(visit, "desk", await changeOwnPassword(app, em, user, body, visit.request.headers.get("user-agent") ?? ""));
  })(visit);

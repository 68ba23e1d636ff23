import type { APIRoute } from "astro";
import { sessionsRequest } from "../../../../core/settings";
import { deskEndpoint } from "../../../../server/platform/http/endpoint";
import { sessionToken } from "../../../../server/platform/access/sessionCookie";
import { endOwnSessions, ownSessions } from "../../../../server/settings/sessions";

export const POST: APIRoute = (visit) =>
  deskEndpoint(sessionsRequest, async ({ app, em, user, body, now }) => {
    const token = sessionToken(visit, "desk");
    await endOwnSessions(em, user, body, token);
    return ownSessions(app.fork(), user, token, now);
  })(visit);

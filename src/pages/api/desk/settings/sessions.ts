import type { APIRoute } from "astro";
import { sessionsRequest } from "../../../../core/settings";
import { deskEndpoint, sessionToken } from "../../../../server/platform";
import { endOwnSessions, ownSessions } from "../../../../server/settings";

export const POST: APIRoute = (visit) =>
  deskEndpoint(sessionsRequest, async ({ app, em, user, body, now }) => {
    const token = sessionToken(visit, "desk");
    await endOwnSessions(em, user, body, token);
    return ownSessions(app.fork(), user, token, now);
  })(visit);

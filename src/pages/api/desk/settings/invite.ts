import type { APIRoute } from "astro";
import { invitationRequest } from "../../../../core/settings";
import { deskEndpoint } from "../../../../server/platform";
import { invite, teamOf } from "../../../../server/settings";

export const POST: APIRoute = deskEndpoint(invitationRequest, async ({ app, em, user, body, now }) => {
  await invite(em, user, body, now);
  return teamOf(app.fork(), now);
});

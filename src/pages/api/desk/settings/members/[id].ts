import type { APIRoute } from "astro";
import { z } from "zod";
import { membershipRequest } from "../../../../../core/settings";
import { deskEndpoint } from "../../../../../server/platform";
import { changeMembership, teamOf } from "../../../../../server/settings";

export const POST: APIRoute = deskEndpoint(membershipRequest, async ({ app, em, user, body, params, now }) => {
  await changeMembership(em, user, z.uuid().parse(params["id"]), body, now);
  return teamOf(app.fork(), now);
});

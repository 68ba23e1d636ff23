import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { endInvitation, teamOf } from "../../../../../server/settings";

export const POST: APIRoute = deskEndpoint(z.object({ do: z.literal("end") }), async ({ app, em, user, params, now }) => {
  await endInvitation(em, user, z.uuid().parse(params["id"]), now);
  return teamOf(app.fork(), now);
});

import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../server/platform";
import { archiveLaunch, deskLaunch } from "../../../../server/launch";

export const POST: APIRoute = deskEndpoint(z.object({ archived: z.boolean() }), async ({ em, user, body, params, now }) =>
  archiveLaunch(em, user, await deskLaunch(em, params["slug"]), body.archived, now),
);

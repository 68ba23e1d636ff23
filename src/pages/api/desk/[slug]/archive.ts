import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../server/platform/http/endpoint";
import { archiveLaunch } from "../../../../server/launch/archiveLaunch";
import { deskLaunch } from "../../../../server/launch/deskLaunch";

export const POST: APIRoute = deskEndpoint(z.object({ archived: z.boolean() }), async ({ em, user, body, params, now }) =>
  archiveLaunch(em, user, await deskLaunch(em, params["slug"]), body.archived, now),
);

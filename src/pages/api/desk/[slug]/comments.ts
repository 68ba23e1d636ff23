import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../server/platform";
import { deskLaunch } from "../../../../server/launch";
import { decideComment, decideRequest } from "../../../../server/site";

export const POST: APIRoute = deskEndpoint(decideRequest, async ({ em, user, body, params, now }) =>
  decideComment(em, user, (await deskLaunch(em, params["slug"])).launch.id, body, now),
);

import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../server/platform/http/endpoint";
import { deskLaunch } from "../../../../server/launch/deskLaunch";
import { decideComment, decideRequest } from "../../../../server/site/run";

export const POST: APIRoute = deskEndpoint(decideRequest, async ({ em, user, body, params, now }) =>
  decideComment(em, user, (await deskLaunch(em, params["slug"])).launch.id, body, now),
);

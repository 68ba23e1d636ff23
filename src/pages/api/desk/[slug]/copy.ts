import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../server/platform";
import { copyLaunch, copyRequest } from "../../../../server/start";
import { deskLaunch } from "../../../../server/launch";

export const POST: APIRoute = deskEndpoint(copyRequest, async ({ em, user, body, params, now }) =>
  copyLaunch(em, user, await deskLaunch(em, params["slug"]), body, now),
);

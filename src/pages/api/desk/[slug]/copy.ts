import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../server/platform/http/endpoint";
import { copyLaunch, copyRequest } from "../../../../server/start/copyLaunch";
import { deskLaunch } from "../../../../server/launch/deskLaunch";

export const POST: APIRoute = deskEndpoint(copyRequest, async ({ em, user, body, params, now }) =>
  copyLaunch(em, user, await deskLaunch(em, params["slug"]), body, now),
);

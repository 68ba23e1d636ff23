import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../../server/platform";
import { changeRequest, changeSettings, deskLaunch } from "../../../../../server/launch";

export const POST: APIRoute = deskEndpoint(changeRequest, async ({ em, user, body, params, now }) => ({
  version: await changeSettings(em, user, await deskLaunch(em, params["slug"]), body, now),
}));

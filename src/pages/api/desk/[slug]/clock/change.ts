import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../../server/platform/http/endpoint";
import { changeRequest, changeSettings } from "../../../../../server/launch/change";
import { deskLaunch } from "../../../../../server/launch/deskLaunch";

export const POST: APIRoute = deskEndpoint(changeRequest, async ({ em, user, body, params, now }) => ({
  version: await changeSettings(em, user, await deskLaunch(em, params["slug"]), body, now),
}));

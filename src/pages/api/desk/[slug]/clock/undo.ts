import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform/http/endpoint";
import { undoChange } from "../../../../../server/launch/change";
import { deskLaunch } from "../../../../../server/launch/deskLaunch";

export const POST: APIRoute = deskEndpoint(z.object({}), async ({ em, user, params, now }) => {
  const what = await undoChange(em, user, await deskLaunch(em, params["slug"]), now);
  em.clear();
  const { launch } = await deskLaunch(em, params["slug"]);
  return { what, settings: launch.settings, version: launch.version };
});

import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { deskLaunch, undoChange } from "../../../../../server/launch";

export const POST: APIRoute = deskEndpoint(z.object({}), async ({ em, user, params, now }) => {
  const what = await undoChange(em, user, await deskLaunch(em, params["slug"]), now);
  em.clear();
  const { launch } = await deskLaunch(em, params["slug"]);
  return { what, settings: launch.settings, version: launch.version };
});

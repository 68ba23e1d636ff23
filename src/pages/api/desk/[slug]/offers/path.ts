import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../../server/platform";
import { deskLaunch } from "../../../../../server/launch";
import { changePath, offersView, pathRequest } from "../../../../../server/offers";

export const POST: APIRoute = deskEndpoint(pathRequest, async ({ app, em, user, body, params, now }) => {
  const slug = (await deskLaunch(em, params["slug"])).launch.slug;
  await changePath(em, user, slug, body, now);
  const fresh = app.fork();
  return offersView(fresh, await deskLaunch(fresh, slug), now);
});

import type { APIRoute } from "astro";
import { look } from "../../../../core/pages";
import { deskEndpoint } from "../../../../server/platform";
import { deskLaunch } from "../../../../server/launch";
import { setLook } from "../../../../server/pages";

export const POST: APIRoute = deskEndpoint(look, async ({ app, em, user, body, params }) =>
  setLook(em, user, (await deskLaunch(em, params["slug"])).launch.id, body, app.vendor.name),
);

import type { APIRoute } from "astro";
import { deskLaunch } from "../../../server/launch/deskLaunch";
import { bellCalendar } from "../../../server/launch/calendar";

export const GET: APIRoute = async ({ params, locals: { app, em } }) => {
  const bundle = await deskLaunch(em, params["slug"]);
  return new Response(bellCalendar(bundle, app.config.origin, app.clock.now()), {
    headers: {
      "content-type": "text/calendar; charset=utf-8",
      "content-disposition": `attachment; filename="${bundle.launch.slug}-bells.ics"`,
    },
  });
};

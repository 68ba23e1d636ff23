import type { APIRoute } from "astro";
import { deskUser } from "../../../server/app/access";
import { deskLaunch } from "../../../server/launch/deskLaunch";
import { bellCalendar } from "../../../server/launch/calendar";

/** The bells of a launch, as a calendar file. */
export const GET: APIRoute = async (visit) => {
  deskUser(visit);
  const { app, em } = visit.locals;
  const bundle = await deskLaunch(em, visit.params["slug"]);
  return new Response(bellCalendar(bundle, app.config.origin, app.clock.now()), {
    headers: {
      "content-type": "text/calendar; charset=utf-8",
      "content-disposition": `attachment; filename="${bundle.launch.slug}-bells.ics"`,
    },
  });
};

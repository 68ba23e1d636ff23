import type { APIRoute } from "astro";
import { deskUser } from "../../../server/platform";
import { bellCalendar, deskLaunch } from "../../../server/launch";

/** The bells of a launch, as a calendar file. */
export const GET: APIRoute = async (visit) => {
  deskUser(visit);
  const { app, em } = visit.locals;
  const context = await deskLaunch(em, visit.params["slug"]);
  return new Response(bellCalendar(context, app.config.origin, app.clock.now()), {
    headers: {
      "content-type": "text/calendar; charset=utf-8",
      "content-disposition": `attachment; filename="${context.launch.slug}-bells.ics"`,
    },
  });
};

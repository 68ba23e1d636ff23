import type { APIRoute } from "astro";
import { readLink } from "../../server/platform";
import { bellCalendar, loadLaunch } from "../../server/launch";

/** The bells of a launch for a calendar program, by an address that only its holder knows. */
export const GET: APIRoute = async ({ params, locals: { app, em } }) => {
  const now = app.clock.now();
  const id = readLink(app.config.INKBELL_SECRET, "calendar", params["token"], now);
  const context = id ? await loadLaunch(em, { id }) : undefined;
  if (!context) return new Response(null, { status: 404 });
  return new Response(bellCalendar(context, app.config.origin, now), {
    headers: { "content-type": "text/calendar; charset=utf-8", "cache-control": "private, max-age=300" },
  });
};

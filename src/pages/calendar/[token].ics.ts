import type { APIRoute } from "astro";
import { readLink } from "../../server/app/signedLink";
import { loadBundle } from "../../server/launch/bundle";
import { bellCalendar } from "../../server/launch/calendar";

/** The bells of a launch for a calendar program, by an address that only its holder knows. */
export const GET: APIRoute = async ({ params, locals: { app, em } }) => {
  const now = app.clock.now();
  const id = await readLink(app.config.INKBELL_SECRET, "calendar", params["token"], now);
  const bundle = id ? await loadBundle(em, { id }) : undefined;
  if (!bundle) return new Response(null, { status: 404 });
  return new Response(bellCalendar(bundle, app.config.origin, now), {
    headers: { "content-type": "text/calendar; charset=utf-8", "cache-control": "private, max-age=300" },
  });
};

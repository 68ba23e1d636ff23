import type { APIRoute } from "astro";
import { deskUser } from "../../../server/platform";
import { audienceFile } from "../../../server/retarget";

/** An audience's hashed addresses, as a file. */
export const GET: APIRoute = (visit) =>
  audienceFile(visit.locals.em, deskUser(visit), visit.params["slug"], visit.params["key"], visit.locals.app.clock.now());

import type { APIRoute } from "astro";
import { bodyOf, deskUser } from "../../../server/platform";
import { importFile, importRequest } from "../../../server/start";

/** Imports a page, a template or a launch: the file's bytes as the body; `launch` and `address` say where a page goes. */
export const POST: APIRoute = async (visit) => {
  const user = deskUser(visit, "launch.import");
  const { app, em } = visit.locals;
  const { searchParams } = visit.url;
  const where = importRequest.parse({ launch: searchParams.get("launch"), address: searchParams.get("address") ?? "" });
  return Response.json(await importFile(app, em, user, bodyOf(visit.request), where, app.clock.now()));
};

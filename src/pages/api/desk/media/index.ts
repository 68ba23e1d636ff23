import type { APIRoute } from "astro";
import { bodyOf, deskUser } from "../../../../server/platform";
import { listMedia, upload } from "../../../../server/pages";

/** All uploads. */
export const GET: APIRoute = async (visit) => {
  deskUser(visit);
  return Response.json({ media: await listMedia(visit.locals.em) });
};

const nameOf = (header: string | null): string => {
  try {
    return decodeURIComponent(header ?? "upload");
  } catch {
    return "upload";
  }
};

/** Takes an upload: the file's bytes as the body, its name in `x-file-name`, percent-encoded. */
export const POST: APIRoute = async (visit) => {
  const user = deskUser(visit, "page.edit");
  const { app, em } = visit.locals;
  const name = nameOf(visit.request.headers.get("x-file-name"));
  return Response.json(await upload(app, em, user, name, bodyOf(visit.request), app.clock.now()));
};

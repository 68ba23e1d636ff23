import type { APIRoute } from "astro";
import { z } from "zod";
import { deskUser, required } from "../../../../../server/platform";
import { deskLaunch } from "../../../../../server/launch";
import { exportLaunch, exportPage, exportTemplate } from "../../../../../server/start";

/** A page or a template by its id, or a whole launch by its address, as a zip. */
export const GET: APIRoute = async (visit) => {
  const user = deskUser(visit);
  const { app, em } = visit.locals;
  const { kind, id = "" } = visit.params;
  const uuid = () => required(z.uuid().safeParse(id).data, "page");
  const { name, body } =
    kind === "launch"
      ? await exportLaunch(app, em, user, await deskLaunch(em, id))
      : kind === "template"
        ? await exportTemplate(app, em, user, uuid())
        : await exportPage(app, em, user, uuid());
  return new Response(body as unknown as BodyInit, {
    headers: { "content-type": "application/zip", "content-disposition": `attachment; filename="${name}"` },
  });
};

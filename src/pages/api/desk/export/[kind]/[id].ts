import type { APIRoute } from "astro";
import { z } from "zod";
import { refusalResponse } from "../../../../../server/app/endpoint";
import { deskLaunch } from "../../../../../server/launch/deskLaunch";
import { exportLaunch, exportPage, exportTemplate } from "../../../../../server/pages/archive";
import { found } from "../../../../../server/app/refusal";

/** A page or a template by its id, or a whole launch by its address, as a zip. Whoever is signed in at the desk sees as much on its screens. */
export const GET: APIRoute = async ({ params, locals: { em } }) => {
  try {
    const { kind, id = "" } = params;
    const uuid = () => found(z.uuid().safeParse(id).data, "page");
    const { name, body } =
      kind === "launch"
        ? await exportLaunch(em, await deskLaunch(em, id))
        : kind === "template"
          ? await exportTemplate(em, uuid())
          : await exportPage(em, uuid());
    return new Response(body.slice().buffer, {
      headers: { "content-type": "application/zip", "content-disposition": `attachment; filename="${name}"`, "cache-control": "private, no-store" },
    });
  } catch (error) {
    const refused = refusalResponse(error);
    if (refused) return refused;
    throw error;
  }
};

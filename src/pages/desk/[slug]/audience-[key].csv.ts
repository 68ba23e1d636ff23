import type { APIRoute } from "astro";
import { audiences } from "../../../core/retarget";
import { mustWrite } from "../../../server/app/session";
import { refusalResponse } from "../../../server/app/endpoint";
import { deskLaunch } from "../../../server/launch/deskLaunch";
import { audienceFile } from "../../../server/retarget/audienceFile";

export const GET: APIRoute = async ({ params, locals: { em, user } }) => {
  try {
    mustWrite(user!);
    const { launch } = await deskLaunch(em, params["slug"]);
    const audience = audiences.find(({ key }) => key === params["key"]);
    if (!audience) return new Response("There is no such audience.", { status: 404 });
    return new Response(await audienceFile(em, launch.id, audience), {
      headers: { "content-type": "text/csv; charset=utf-8", "content-disposition": `attachment; filename="${launch.slug}-${audience.key}.csv"` },
    });
  } catch (error) {
    const refused = refusalResponse(error);
    if (refused) return refused;
    throw error;
  }
};

import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../server/platform/http/endpoint";
import { deskLaunch } from "../../../../server/launch/deskLaunch";
import { addPage, addPageRequest } from "../../../../server/pages/addPage";

export const POST: APIRoute = deskEndpoint(addPageRequest, async ({ em, user, body, params }) => {
  const page = await addPage(em, user, await deskLaunch(em, params["slug"]), body);
  return { id: page.id };
});

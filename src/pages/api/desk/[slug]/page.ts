import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../server/platform";
import { deskLaunch } from "../../../../server/launch";
import { addPage, addPageRequest } from "../../../../server/pages";

export const POST: APIRoute = deskEndpoint(addPageRequest, async ({ em, user, body, params }) => {
  const page = await addPage(em, user, await deskLaunch(em, params["slug"]), body);
  return { id: page.id };
});

import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../server/app/endpoint";
import { addContentPage, contentPageRequest } from "../../../../server/launch/contentPage";
import { deskLaunch } from "../../../../server/launch/deskLaunch";

export const POST: APIRoute = deskEndpoint(contentPageRequest, async ({ em, user, body, params }) => {
  const page = await addContentPage(em, user, await deskLaunch(em, params["slug"]), body);
  return { id: page.id };
});

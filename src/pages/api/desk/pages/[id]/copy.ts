import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { copyPage, copyPageRequest } from "../../../../../server/pages";

export const POST: APIRoute = deskEndpoint(copyPageRequest, async ({ em, user, body, params }) => {
  const { page, slug } = await copyPage(em, user, z.uuid().parse(params["id"]), body);
  return { address: `/desk/${slug}/pages/${page.key}` };
});

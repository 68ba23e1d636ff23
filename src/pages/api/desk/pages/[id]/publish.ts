import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { publishPage } from "../../../../../server/pages";

export const POST: APIRoute = deskEndpoint(z.object({ version: z.number().int().optional() }), async ({ app, em, user, body, params, now }) => {
  const page = await publishPage(em, user, z.uuid().parse(params["id"]), app.vendor.name, now, body.version);
  return { publishedAt: page.publishedAt };
});

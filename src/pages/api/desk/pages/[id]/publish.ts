import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/app/endpoint";
import { publishPage } from "../../../../../server/pages/publish";

export const POST: APIRoute = deskEndpoint(z.object({}), async ({ app, em, user, params, now }) => {
  const page = await publishPage(em, user, z.uuid().parse(params["id"]), app.config.INKBELL_VENDOR, now);
  return { publishedAt: page.publishedAt };
});

import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../server/platform";
import { publishPages } from "../../../../server/pages";

const pages = z
  .array(z.object({ id: z.uuid(), version: z.number().int() }))
  .min(1, "Choose a page to publish.")
  .max(100);

export const POST: APIRoute = deskEndpoint(z.object({ pages }), async ({ app, em, user, body, params, now }) => ({
  published: await publishPages(em, user, params["slug"]!, body.pages, app.vendor.name, now),
}));

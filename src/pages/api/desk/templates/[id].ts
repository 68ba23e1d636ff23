import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../server/platform";
import { dropTemplate } from "../../../../server/pages";

/** Throws a template away. */
export const POST: APIRoute = deskEndpoint(z.object({ drop: z.literal(true) }), async ({ em, user, params }) =>
  dropTemplate(em, user, z.uuid().parse(params["id"])),
);

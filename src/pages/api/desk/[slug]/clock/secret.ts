import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { hookSecret } from "../../../../../server/launch";

export const POST: APIRoute = deskEndpoint(z.object({ renew: z.boolean().default(false) }), async ({ em, user, body, params }) => ({
  secret: await hookSecret(em, user, params["slug"], body.renew),
}));

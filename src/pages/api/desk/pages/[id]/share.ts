import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { sharePreview } from "../../../../../server/site";

export const POST: APIRoute = deskEndpoint(z.object({}), async ({ app, em, user, params, now }) => ({
  address: await sharePreview(app, em, user, z.uuid().parse(params["id"]), now),
}));

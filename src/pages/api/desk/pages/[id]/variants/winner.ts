import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../../server/platform";
import { makeWinner } from "../../../../../../server/pages";

export const POST: APIRoute = deskEndpoint(z.object({}), async ({ app, em, user, params, now }) => {
  const { key } = await makeWinner(em, user, z.uuid().parse(params["id"]), app.vendor.name, now);
  return { key };
});

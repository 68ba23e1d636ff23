import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../../server/platform";
import { addVariant } from "../../../../../../server/pages";

export const POST: APIRoute = deskEndpoint(z.object({}), async ({ em, user, params }) => {
  const { key } = await addVariant(em, user, z.uuid().parse(params["id"]));
  return { key };
});

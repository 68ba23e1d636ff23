import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { addressRequest, changeAddress } from "../../../../../server/pages";

export const POST: APIRoute = deskEndpoint(addressRequest, async ({ em, user, body, params, now }) => {
  const page = await changeAddress(em, user, z.uuid().parse(params["id"]), body, now);
  return { slug: page.slug };
});

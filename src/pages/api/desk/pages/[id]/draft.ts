import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { saveDraft } from "../../../../../server/pages";

export const POST: APIRoute = deskEndpoint(z.object({ content: z.unknown(), version: z.number().int() }), async ({ em, user, body, params, now }) => {
  const page = await saveDraft(em, user, z.uuid().parse(params["id"]), body.content, body.version, now);
  return { version: page.version };
});

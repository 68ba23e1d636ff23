import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { archivePage } from "../../../../../server/pages";

export const POST: APIRoute = deskEndpoint(z.object({ archived: z.boolean() }), ({ em, user, body, params, now }) =>
  archivePage(em, user, z.uuid().parse(params["id"]), body.archived, now),
);

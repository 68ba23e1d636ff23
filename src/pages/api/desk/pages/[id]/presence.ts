import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { notePresence } from "../../../../../server/pages";

/** Says that the page is open here, and answers who else has it open. */
export const POST: APIRoute = deskEndpoint(z.object({}), async ({ em, user, params, now }) =>
  notePresence(em, user, z.uuid().parse(params["id"]), now),
);

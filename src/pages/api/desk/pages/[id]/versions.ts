import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { versionsOf } from "../../../../../server/pages";

/** The history of a page. */
export const POST: APIRoute = deskEndpoint(z.object({}), async ({ em, params }) => ({
  versions: await versionsOf(em, z.uuid().parse(params["id"])),
}));

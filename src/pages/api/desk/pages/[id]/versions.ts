import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform/http/endpoint";
import { versionsOf } from "../../../../../server/pages/publish";

/** The history of a page. */
export const POST: APIRoute = deskEndpoint(z.object({}), async ({ em, params }) => ({
  versions: await versionsOf(em, z.uuid().parse(params["id"])),
}));

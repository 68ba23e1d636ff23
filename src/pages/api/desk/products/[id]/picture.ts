import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { setPicture } from "../../../../../server/products";

export const POST: APIRoute = deskEndpoint(z.object({ mediaId: z.uuid().nullable() }), ({ em, user, body, params }) =>
  setPicture(em, user, z.uuid().parse(params["id"]), body.mediaId),
);

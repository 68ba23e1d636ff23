import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { archiveCoupon } from "../../../../../server/products";

export const POST: APIRoute = deskEndpoint(z.object({ archived: z.boolean() }), ({ em, user, body, params, now }) =>
  archiveCoupon(em, user, z.uuid().parse(params["id"]), body.archived, now),
);

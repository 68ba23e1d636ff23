import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { stopCoupon } from "../../../../../server/products";

export const POST: APIRoute = deskEndpoint(z.object({}), ({ em, user, params, now }) => stopCoupon(em, user, z.uuid().parse(params["id"]), now));

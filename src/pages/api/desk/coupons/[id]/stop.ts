import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform/http/endpoint";
import { stopCoupon } from "../../../../../server/products/coupons";

export const POST: APIRoute = deskEndpoint(z.object({}), ({ em, user, params, now }) => stopCoupon(em, user, z.uuid().parse(params["id"]), now));

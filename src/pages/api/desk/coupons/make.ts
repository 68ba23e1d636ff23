import type { APIRoute } from "astro";
import { couponRequest } from "../../../../core/offers";
import { deskEndpoint } from "../../../../server/platform";
import { makeCoupon } from "../../../../server/products";

export const POST: APIRoute = deskEndpoint(couponRequest, ({ em, user, body, now }) => makeCoupon(em, user, body, now));

import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/app/endpoint";
import { smallProduct } from "../../../../../server/offers/requests";
import { growToSell } from "../../../../../server/offers/grow";

export const POST: APIRoute = deskEndpoint(z.object({ product: smallProduct.optional() }), ({ em, user, body, params, now }) =>
  growToSell(em, user, params["slug"]!, body.product, now),
);

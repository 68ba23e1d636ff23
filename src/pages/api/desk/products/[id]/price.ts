import type { APIRoute } from "astro";
import { z } from "zod";
import { priceTerms } from "../../../../../core/offers";
import { deskEndpoint } from "../../../../../server/app/endpoint";
import { setPrice } from "../../../../../server/offers/products";

export const POST: APIRoute = deskEndpoint(z.object({ price: z.string(), terms: priceTerms }), ({ em, user, body, params, now }) =>
  setPrice(em, user, z.uuid().parse(params["id"]), body, now),
);

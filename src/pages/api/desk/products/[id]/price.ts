import type { APIRoute } from "astro";
import { z } from "zod";
import { priceTerms } from "../../../../../core/offers";
import { deskEndpoint } from "../../../../../server/platform";
import { setPrice } from "../../../../../server/products";

export const POST: APIRoute = deskEndpoint(z.object({ price: z.string(), terms: priceTerms }), ({ em, user, body, params, now }) =>
  setPrice(em, user, z.uuid().parse(params["id"]), body, now),
);

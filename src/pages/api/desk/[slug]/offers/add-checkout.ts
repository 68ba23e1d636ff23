import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { smallProduct } from "../../../../../server/products";
import { addCheckout } from "../../../../../server/offers";

export const POST: APIRoute = deskEndpoint(z.object({ product: smallProduct.optional() }), ({ em, user, body, params, now }) =>
  addCheckout(em, user, params["slug"]!, body.product, now),
);

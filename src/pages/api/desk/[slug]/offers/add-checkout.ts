import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform/http/endpoint";
import { smallProduct } from "../../../../../server/products/requests";
import { addCheckout } from "../../../../../server/offers/addCheckout";

export const POST: APIRoute = deskEndpoint(z.object({ product: smallProduct.optional() }), ({ em, user, body, params, now }) =>
  addCheckout(em, user, params["slug"]!, body.product, now),
);

import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../../server/app/endpoint";
import { makeBumpProduct } from "../../../../../server/offers/products";
import { smallProduct } from "../../../../../server/offers/requests";

export const POST: APIRoute = deskEndpoint(smallProduct, ({ em, user, body, params, now }) =>
  makeBumpProduct(em, user, params["id"] ?? "", body, now),
);

import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../../server/platform/http/endpoint";
import { makeBumpProduct } from "../../../../../server/products/products";
import { smallProduct } from "../../../../../server/products/requests";

export const POST: APIRoute = deskEndpoint(smallProduct, ({ em, user, body, params, now }) =>
  makeBumpProduct(em, user, params["id"] ?? "", body, now),
);

import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../../server/platform";
import { makeBumpProduct, smallProduct } from "../../../../../server/products";

export const POST: APIRoute = deskEndpoint(smallProduct, ({ em, user, body, params, now }) =>
  makeBumpProduct(em, user, params["id"] ?? "", body, now),
);

import type { APIRoute } from "astro";
import { z } from "zod";
import { productRequest } from "../../../../../core/offers";
import { deskEndpoint } from "../../../../../server/platform";
import { saveProduct } from "../../../../../server/products";

export const POST: APIRoute = deskEndpoint(productRequest, ({ em, user, body, params, now }) =>
  saveProduct(em, user, z.uuid().parse(params["id"]), body, now),
);

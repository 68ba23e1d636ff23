import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform/http/endpoint";
import { copyProduct } from "../../../../../server/products/products";
import { smallProduct } from "../../../../../server/products/requests";

export const POST: APIRoute = deskEndpoint(smallProduct, ({ em, user, body, params, now }) =>
  copyProduct(em, user, z.uuid().parse(params["id"]), body, now),
);

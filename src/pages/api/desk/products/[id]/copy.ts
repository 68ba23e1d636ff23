import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { copyProduct, smallProduct } from "../../../../../server/products";

export const POST: APIRoute = deskEndpoint(smallProduct, ({ em, user, body, params, now }) =>
  copyProduct(em, user, z.uuid().parse(params["id"]), body, now),
);

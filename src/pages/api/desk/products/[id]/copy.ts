import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/app/endpoint";
import { copyProduct } from "../../../../../server/offers/products";
import { smallProduct } from "../../../../../server/offers/requests";

export const POST: APIRoute = deskEndpoint(smallProduct, ({ em, user, body, params, now }) =>
  copyProduct(em, user, z.uuid().parse(params["id"]), body, now),
);

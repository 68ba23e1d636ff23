import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { deleteCoupon } from "../../../../../server/products";

export const POST: APIRoute = deskEndpoint(z.object({}), ({ em, user, params }) => deleteCoupon(em, user, z.uuid().parse(params["id"])));

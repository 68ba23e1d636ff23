import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/app/endpoint";
import { deleteCoupon } from "../../../../../server/offers/archiveCoupon";

export const POST: APIRoute = deskEndpoint(z.object({}), ({ em, user, params }) => deleteCoupon(em, user, z.uuid().parse(params["id"])));

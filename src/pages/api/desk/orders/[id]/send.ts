import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/app/endpoint";
import { captureAndFulfil } from "../../../../../server/offers/fulfil";

export const POST: APIRoute = deskEndpoint(z.object({}), ({ app, em, user, params }) =>
  captureAndFulfil(app, em, user, z.uuid().parse(params["id"])),
);

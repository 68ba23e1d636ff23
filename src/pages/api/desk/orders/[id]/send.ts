import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform/http/endpoint";
import { captureAndFulfil } from "../../../../../server/payments/fulfil";

export const POST: APIRoute = deskEndpoint(z.object({}), ({ app, em, user, params }) =>
  captureAndFulfil(app, em, user, z.uuid().parse(params["id"])),
);

import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { captureAndFulfil } from "../../../../../server/payments";

export const POST: APIRoute = deskEndpoint(z.object({}), ({ app, em, user, params }) =>
  captureAndFulfil(app, em, user, z.uuid().parse(params["id"])),
);

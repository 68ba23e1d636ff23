import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { refundOrder, refundRequest } from "../../../../../server/payments";

export const POST: APIRoute = deskEndpoint(refundRequest, ({ app, em, user, body, params }) =>
  refundOrder(app, em, user, z.uuid().parse(params["id"]), body),
);

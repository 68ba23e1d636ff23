import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform/http/endpoint";
import { refundOrder, refundRequest } from "../../../../../server/payments/refunds";

export const POST: APIRoute = deskEndpoint(refundRequest, ({ app, em, user, body, params }) =>
  refundOrder(app, em, user, z.uuid().parse(params["id"]), body),
);

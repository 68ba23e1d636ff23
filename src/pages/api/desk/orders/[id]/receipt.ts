import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform/http/endpoint";
import { sendReceiptAgain } from "../../../../../server/checkout/handOrders";

export const POST: APIRoute = deskEndpoint(z.object({}), ({ app, em, user, params }) =>
  sendReceiptAgain(app, em, user, z.uuid().parse(params["id"])),
);

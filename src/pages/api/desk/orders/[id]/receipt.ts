import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/app/endpoint";
import { sendReceiptAgain } from "../../../../../server/offers/handOrders";

export const POST: APIRoute = deskEndpoint(z.object({}), ({ app, em, user, params }) =>
  sendReceiptAgain(app, em, user, z.uuid().parse(params["id"])),
);

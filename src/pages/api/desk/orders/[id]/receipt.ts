import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { sendReceiptAgain } from "../../../../../server/checkout";

export const POST: APIRoute = deskEndpoint(z.object({}), ({ app, em, user, params }) =>
  sendReceiptAgain(app, em, user, z.uuid().parse(params["id"])),
);

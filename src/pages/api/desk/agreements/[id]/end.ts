import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/app/endpoint";
import { mustWrite } from "../../../../../server/app/session";
import { endAgreement } from "../../../../../server/offers/later";

export const POST: APIRoute = deskEndpoint(z.object({}), async ({ em, user, params, now }) => {
  mustWrite(user, ["owner", "finance"]);
  await endAgreement(em, z.uuid().parse(params["id"]), "by_vendor", now);
});

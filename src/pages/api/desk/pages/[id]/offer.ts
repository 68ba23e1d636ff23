import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/app/endpoint";
import { offerRequest, setOffer } from "../../../../../server/offers/setOffer";

export const POST: APIRoute = deskEndpoint(offerRequest, async ({ em, user, body, params }) =>
  setOffer(em, user, z.uuid().parse(params["id"]), body),
);

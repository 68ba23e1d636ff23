import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../../server/app/endpoint";
import { makeBumpProduct } from "../../../../../server/offers/bumpProduct";
import { offerRequest } from "../../../../../server/offers/setOffer";

export const POST: APIRoute = deskEndpoint(offerRequest, ({ em, user, body, params }) => makeBumpProduct(em, user, params["id"] ?? "", body));

import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/app/endpoint";
import { growToSell } from "../../../../../server/offers/grow";

export const POST: APIRoute = deskEndpoint(z.object({}), ({ em, user, params }) => growToSell(em, user, params["slug"]!));

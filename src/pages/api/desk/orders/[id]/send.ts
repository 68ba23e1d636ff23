import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/app/endpoint";
import { takeAndSend } from "../../../../../server/offers/sending";

export const POST: APIRoute = deskEndpoint(z.object({}), ({ app, em, user, params }) => takeAndSend(app, em, user, z.uuid().parse(params["id"])));

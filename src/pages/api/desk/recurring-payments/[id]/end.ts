import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { endAtDesk } from "../../../../../server/payments";

export const POST: APIRoute = deskEndpoint(z.object({}), ({ em, user, params, now }) => endAtDesk(em, user, z.uuid().parse(params["id"]), now));

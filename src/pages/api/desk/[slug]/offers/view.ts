import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { deskLaunch } from "../../../../../server/launch";
import { offersView } from "../../../../../server/offers";

export const POST: APIRoute = deskEndpoint(z.object({}), async ({ em, params, now }) => offersView(em, await deskLaunch(em, params["slug"]), now));

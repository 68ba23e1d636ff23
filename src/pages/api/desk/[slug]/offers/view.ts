import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform/http/endpoint";
import { deskLaunch } from "../../../../../server/launch/deskLaunch";
import { offersView } from "../../../../../server/offers/offersView";

export const POST: APIRoute = deskEndpoint(z.object({}), async ({ em, params, now }) => offersView(em, await deskLaunch(em, params["slug"]), now));

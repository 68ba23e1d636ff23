import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../server/platform";
import { deleteLaunch, deskLaunch } from "../../../../server/launch";

export const POST: APIRoute = deskEndpoint(z.object({}), async ({ em, user, params }) =>
  deleteLaunch(em, user, await deskLaunch(em, params["slug"])),
);

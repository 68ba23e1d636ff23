import type { APIRoute } from "astro";
import { z } from "zod";
import { deskRead } from "../../../../server/platform";
import { deskLaunch } from "../../../../server/launch";
import { audienceSizes } from "../../../../server/retarget";

/** How many people each audience of a launch holds, country by country. */
export const GET: APIRoute = deskRead(z.object({}), async ({ em, params, scope }) => ({
  audiences: await audienceSizes(em, { launchId: (await deskLaunch(em, params["slug"])).launch.id, ...scope }),
}));

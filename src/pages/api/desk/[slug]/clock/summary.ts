import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../../server/platform";
import { deskLaunch, proposedChange, summariseChange } from "../../../../../server/launch";

export const POST: APIRoute = deskEndpoint(proposedChange, async ({ em, body, params, now }) =>
  summariseChange(em, await deskLaunch(em, params["slug"]), body.settings, now),
);

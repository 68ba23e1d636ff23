import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../../server/platform/http/endpoint";
import { proposedChange, summariseChange } from "../../../../../server/launch/change";
import { deskLaunch } from "../../../../../server/launch/deskLaunch";

export const POST: APIRoute = deskEndpoint(proposedChange, async ({ em, body, params, now }) =>
  summariseChange(em, await deskLaunch(em, params["slug"]), body.settings, now),
);

import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../../server/platform";
import { deskLaunch } from "../../../../../server/launch";
import { assumptionsRequest, setAssumptions } from "../../../../../server/offers";

export const POST: APIRoute = deskEndpoint(assumptionsRequest, async ({ em, user, body, params }) =>
  setAssumptions(em, user, (await deskLaunch(em, params["slug"])).launch.id, body.assumptions),
);

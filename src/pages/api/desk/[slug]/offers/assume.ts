import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../../server/platform/http/endpoint";
import { deskLaunch } from "../../../../../server/launch/deskLaunch";
import { assumptionsRequest, setAssumptions } from "../../../../../server/offers/offersView";

export const POST: APIRoute = deskEndpoint(assumptionsRequest, async ({ em, user, body, params }) =>
  setAssumptions(em, user, (await deskLaunch(em, params["slug"])).launch.id, body.assumptions),
);

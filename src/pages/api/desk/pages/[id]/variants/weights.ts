import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../../server/platform";
import { setWeights, weightsRequest } from "../../../../../../server/pages";

export const POST: APIRoute = deskEndpoint(weightsRequest, async ({ em, user, body, params }) =>
  setWeights(em, user, z.uuid().parse(params["id"]), body),
);

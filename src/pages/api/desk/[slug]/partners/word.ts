import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../../server/platform";
import { deskLaunch } from "../../../../../server/launch";
import { setPartnerWord, wordRequest } from "../../../../../server/partners";

export const POST: APIRoute = deskEndpoint(wordRequest, async ({ em, user, body, params, now }) =>
  setPartnerWord(em, user, (await deskLaunch(em, params["slug"])).launch.id, body, now),
);

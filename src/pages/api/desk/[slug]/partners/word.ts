import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../../server/platform/http/endpoint";
import { deskLaunch } from "../../../../../server/launch/deskLaunch";
import { setPartnerWord, wordRequest } from "../../../../../server/partners/words";

export const POST: APIRoute = deskEndpoint(wordRequest, async ({ em, user, body, params, now }) =>
  setPartnerWord(em, user, (await deskLaunch(em, params["slug"])).launch.id, body, now),
);

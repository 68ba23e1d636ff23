import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../server/platform/http/endpoint";
import { deskLaunch } from "../../../../server/launch/deskLaunch";
import { delayRequest, setRecoveryDelay } from "../../../../server/leaks/setDelay";

export const POST: APIRoute = deskEndpoint(delayRequest, async ({ em, user, body, params }) => {
  const { launch } = await deskLaunch(em, params["slug"]);
  await setRecoveryDelay(em, user, launch.id, body.minutes);
});

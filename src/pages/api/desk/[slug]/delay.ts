import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../server/platform";
import { deskLaunch } from "../../../../server/launch";
import { delayRequest, setRecoveryDelay } from "../../../../server/leaks";

export const POST: APIRoute = deskEndpoint(delayRequest, async ({ em, user, body, params }) => {
  const { launch } = await deskLaunch(em, params["slug"]);
  await setRecoveryDelay(em, user, launch.id, body.minutes);
});

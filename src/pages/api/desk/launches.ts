import type { APIRoute } from "astro";
import { newLaunchRequest } from "../../../core/launch";
import { deskEndpoint } from "../../../server/platform";
import { createLaunch } from "../../../server/start";

export const POST: APIRoute = deskEndpoint(newLaunchRequest, async ({ em, user, body, now }) => {
  const { launch, remarks } = await createLaunch(em, user, body, now);
  return { slug: launch.slug, remarks };
});

import type { APIRoute } from "astro";
import { newLaunchRequest, wallTimeRemark, resolveWallTime } from "../../../core/launch";
import { deskEndpoint } from "../../../server/app/endpoint";
import { createLaunch } from "../../../server/launch/createLaunch";

export const POST: APIRoute = deskEndpoint(newLaunchRequest, async ({ em, user, body, now }) => {
  const launch = await createLaunch(em, user, body, now);
  const remarks = [body.opensWall, body.closesWall].flatMap((typed) => {
    const resolved = resolveWallTime(typed, body.zone);
    return "instant" in resolved ? (wallTimeRemark(resolved, body.zone) ?? []) : [];
  });
  return { slug: launch.slug, remarks };
});

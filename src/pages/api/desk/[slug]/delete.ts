import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../server/platform/http/endpoint";
import { deleteLaunch } from "../../../../server/launch/archiveLaunch";
import { deskLaunch } from "../../../../server/launch/deskLaunch";

export const POST: APIRoute = deskEndpoint(z.object({}), async ({ em, user, params }) =>
  deleteLaunch(em, user, await deskLaunch(em, params["slug"])),
);

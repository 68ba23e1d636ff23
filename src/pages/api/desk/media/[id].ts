import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../server/platform";
import { changeMedia, mediaChange } from "../../../../server/pages";

export const POST: APIRoute = deskEndpoint(mediaChange, async ({ em, user, body, params }) =>
  changeMedia(em, user, z.uuid().parse(params["id"]), body),
);

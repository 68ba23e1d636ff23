import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../../server/platform";
import { dropVariant } from "../../../../../../server/pages";

export const POST: APIRoute = deskEndpoint(z.object({}), async ({ em, user, params }) => dropVariant(em, user, z.uuid().parse(params["id"])));

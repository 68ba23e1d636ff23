import type { APIRoute } from "astro";
import { z } from "zod";
import { deskEndpoint } from "../../../../../server/platform";
import { deletePage } from "../../../../../server/pages";

export const POST: APIRoute = deskEndpoint(z.object({}), ({ em, user, params }) => deletePage(em, user, z.uuid().parse(params["id"])));

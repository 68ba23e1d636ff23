import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../../server/platform";
import { decideApplication, decideApplicationRequest } from "../../../../../server/partners";

export const POST: APIRoute = deskEndpoint(decideApplicationRequest, ({ em, user, body, now }) => decideApplication(em, user, body, now));

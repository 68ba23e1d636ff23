import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../../server/platform/http/endpoint";
import { decideApplication, decideApplicationRequest } from "../../../../../server/partners/applications";

export const POST: APIRoute = deskEndpoint(decideApplicationRequest, ({ em, user, body, now }) => decideApplication(em, user, body, now));

import type { APIRoute } from "astro";
import { vendorRequest } from "../../../../core/settings";
import { deskEndpoint } from "../../../../server/platform";
import { changeVendor } from "../../../../server/settings";

export const POST: APIRoute = deskEndpoint(vendorRequest, ({ app, em, user, body }) => changeVendor(app, em, user, body));

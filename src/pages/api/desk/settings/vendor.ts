import type { APIRoute } from "astro";
import { vendorRequest } from "../../../../core/settings";
import { deskEndpoint } from "../../../../server/platform/http/endpoint";
import { changeVendor } from "../../../../server/settings/vendor";

export const POST: APIRoute = deskEndpoint(vendorRequest, ({ app, em, user, body }) => changeVendor(app, em, user, body));

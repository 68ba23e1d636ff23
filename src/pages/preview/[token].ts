import type { APIRoute } from "astro";
import { previewResponse } from "../../server/site/preview";
import { sharedPreview } from "../../server/site/share";

/** A draft at its shared address: inert, and found by no search. */
export const GET: APIRoute = async ({ params, locals: { app, em } }) => previewResponse(await sharedPreview(app, em, params["token"]));

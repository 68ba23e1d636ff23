import type { APIRoute } from "astro";
import { previewResponse, sharedPreview } from "../../server/site";

/** A draft at its shared address: inert, and found by no search. */
export const GET: APIRoute = async ({ params, locals: { app, em } }) => previewResponse(await sharedPreview(app, em, params["token"]));

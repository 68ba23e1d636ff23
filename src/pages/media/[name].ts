import type { APIRoute } from "astro";
import { answerMedia } from "../../server/site";

export const GET: APIRoute = async ({ params, request, locals }) => answerMedia(locals.app, params["name"] ?? "", request);

import type { APIRoute } from "astro";
import { countdownJson, countdownPicture } from "../../server/launch";

/** Countdowns for other sites and for emails: `/c/<launch>.json` and `/c/<launch>.png`, with `?k=` for a person's own. */
export const GET: APIRoute = async ({ params, url, locals: { app } }) => {
  const match = /^([a-z0-9-]+)\.(json|png)$/.exec(params["file"] ?? "");
  if (!match) return new Response(null, { status: 404 });
  const answer = match[2] === "json" ? countdownJson : countdownPicture;
  return answer(app, match[1]!, url.searchParams.get("k"));
};

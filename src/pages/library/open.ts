import type { APIRoute } from "astro";
import { Refusal } from "../../server/app/refusal";
import { keepSession } from "../../server/app/sessionCookie";
import { visitorOf } from "../../server/pages/publicRequest";
import { openLibrary } from "../../server/people/buyers";

/** The link of a letter. Programs that look at letters before their reader does only look. */
export const GET: APIRoute = async (visit) => {
  const { locals, url, request, redirect } = visit;
  if (request.method === "HEAD") return new Response(null, { status: 204 });
  try {
    const token = await openLibrary(locals.app, url.searchParams.get("t"), visitorOf(request.headers.get("cookie")));
    keepSession(visit, "buyer", token);
    return redirect("/library", 303);
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    return redirect("/library/sign-in?over", 303);
  }
};

import type { APIRoute } from "astro";
import { randomUUID } from "node:crypto";
import { answerPage, visitorOf, type PublicAnswer } from "../../server/pages/answer";
import { returnFromChallenge, submitForm } from "../../server/pages/submit";

const respond = ({ status, body, headers }: PublicAnswer) => new Response(status === 303 ? null : body, { status, headers });

/** Public pages. The server's fast lane answers most of them before they come here; so does every page under `npm run dev`. */
export const GET: APIRoute = async ({ params, url, request, locals }) => {
  const [slug = "", ...rest] = (params.path ?? "").split("/");
  const path = rest.join("/");
  const visitorId = visitorOf(request.headers.get("cookie"));
  if (path === "charge") {
    const location = await returnFromChallenge(locals.app, slug, url.searchParams.get("c"), visitorId);
    return respond({ status: 303, body: "", headers: { location, "cache-control": "no-store" } });
  }
  const acceptLanguage = request.headers.get("accept-language") ?? undefined;
  return respond(await answerPage(locals.app, { slug, path, query: url.searchParams, visitorId, acceptLanguage }));
};

/** Forms of public pages, at `/l/<launch>/do/<action>`. */
export const POST: APIRoute = async ({ params, request, locals, clientAddress }) => {
  const [slug = "", marker, action = ""] = (params.path ?? "").split("/");
  if (marker !== "do") return new Response(null, { status: 404 });
  const form = await request.formData();
  const values = Object.fromEntries([...form].filter((entry): entry is [string, string] => typeof entry[1] === "string"));
  // Without a cookie yet (it is refused, or this is the very first request) the visitor is new.
  const known = visitorOf(request.headers.get("cookie"));
  const visitorId = known ?? randomUUID();
  const acceptLanguage = request.headers.get("accept-language") ?? undefined;
  const answer = await submitForm(locals.app, { slug, action, values, visitorId, acceptLanguage, from: clientAddress });
  if (!known) answer.headers["set-cookie"] ??= `ib_v=${visitorId}; Path=/; HttpOnly; SameSite=Lax; Max-Age=31536000`;
  return respond(answer);
};

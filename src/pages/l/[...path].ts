import type { APIRoute } from "astro";
import { randomUUID } from "node:crypto";
import {
  buyerTokenOf,
  cookie,
  emailClickOf,
  firstVisitOf,
  keptLinkOf,
  linkCookie,
  lookOf,
  type PublicAnswer,
  readForm,
  tryLinkOf,
  visitorCookie,
  visitorOf,
} from "../../server/platform";
import {
  answerPage,
  calendarFile,
  confirmAddress,
  frameOf,
  framePolicy,
  joinSession,
  recordWatched,
  returnFromChallenge,
  submitForm,
} from "../../server/site";

const respond = ({ status, body, headers, cookies = [] }: PublicAnswer) => {
  const response = new Response(status === 303 || status === 304 ? null : body, { status, headers });
  for (const one of cookies) response.headers.append("set-cookie", one);
  return response;
};

/** Public pages. The server's fast lane answers most of them before they come here; so does every page under `npm run dev`. */
export const GET: APIRoute = async ({ params, url, request, locals }) => {
  const [slug = "", ...rest] = (params.path ?? "").split("/");
  const path = rest.join("/");
  const visitorId = visitorOf(request.headers.get("cookie"));
  if (rest[0] === "frame") {
    const body = await frameOf(locals.app, slug, rest.slice(1).join("/"), url.searchParams.get("b"));
    const headers = { "content-type": "text/html; charset=utf-8", "content-security-policy": framePolicy, "x-robots-tag": "noindex" };
    return new Response(body ?? null, { status: body === undefined ? 404 : 200, headers });
  }
  if (rest[0] === "calendar" && path.endsWith(".ics")) {
    const asked = { link: url.searchParams.get("k"), keptLink: keptLinkOf(request.headers.get("cookie")), visitorId };
    const file = await calendarFile(locals.app, slug, rest.slice(1).join("/").slice(0, -4), asked);
    const headers = { "content-type": "text/calendar; charset=utf-8", "cache-control": "private, no-store" };
    return new Response(file ?? null, { status: file ? 200 : 404, headers });
  }
  if (rest[0] === "live") {
    const keptLink = keptLinkOf(request.headers.get("cookie"));
    const location = await joinSession(locals.app, slug, rest.slice(1).join("/"), { visitorId, keptLink });
    return location ? respond({ status: 303, body: "", headers: { location, "cache-control": "no-store" } }) : new Response(null, { status: 404 });
  }
  if (path === "confirm") {
    // Programs that look at emails before their reader does only look.
    if (request.method === "HEAD") return new Response(null, { status: 204 });
    const visitor = visitorId ?? randomUUID();
    const location = await confirmAddress(locals.app, slug, url.searchParams.get("c"), visitor);
    const cookies = [cookie(locals.app, visitorCookie, visitor), cookie(locals.app, linkCookie, "")];
    return respond({ status: 303, body: "", headers: { location, "cache-control": "no-store" }, cookies });
  }
  if (path === "charge") {
    const location = await returnFromChallenge(locals.app, slug, url.searchParams.get("c"));
    return respond({ status: 303, body: "", headers: { location, "cache-control": "no-store" } });
  }
  const acceptLanguage = request.headers.get("accept-language") ?? undefined;
  const keptLink = keptLinkOf(request.headers.get("cookie"));
  const ifNoneMatch = request.headers.get("if-none-match") ?? undefined;
  const tryLink = tryLinkOf(request.headers.get("cookie"));
  const buyerToken = buyerTokenOf(request.headers.get("cookie"));
  return respond(
    await answerPage(locals.app, {
      slug,
      path,
      query: url.searchParams,
      visitorId,
      keptLink,
      tryLink,
      buyerToken,
      ...lookOf(request.method, request.headers.get("sec-purpose"), request.headers.get("user-agent")),
      acceptLanguage,
      ifNoneMatch,
      firstVisit: firstVisitOf(request.headers.get("cookie")),
      emailClick: emailClickOf(request.headers.get("cookie")),
    }),
  );
};

/** Forms of public pages, at `/l/<launch>/do/<action>`. */
export const POST: APIRoute = async ({ params, request, locals, clientAddress }) => {
  const [slug = "", marker, action = ""] = (params.path ?? "").split("/");
  if (marker !== "do") return new Response(null, { status: 404 });
  const values = await readForm(request);
  // Without a cookie yet (it is refused, or this is the very first request) the visitor is new.
  const known = visitorOf(request.headers.get("cookie"));
  const visitorId = known ?? randomUUID();
  if (action === "watched") {
    // Only of a browser that has been given its cookie: what is watched belongs to somebody.
    const kept = known !== undefined && (await recordWatched(locals.app, slug, values, known));
    return new Response(null, { status: kept ? 204 : 404 });
  }
  const acceptLanguage = request.headers.get("accept-language") ?? undefined;
  const keptLink = keptLinkOf(request.headers.get("cookie"));
  const tryLink = tryLinkOf(request.headers.get("cookie"));
  const buyerToken = buyerTokenOf(request.headers.get("cookie"));
  const post = { slug, action, values, visitorId, known: known !== undefined, keptLink, tryLink, buyerToken, acceptLanguage, from: clientAddress };
  const answer = await submitForm(locals.app, post);
  return respond(known ? answer : { ...answer, cookies: [...(answer.cookies ?? []), cookie(locals.app, visitorCookie, visitorId)] });
};
